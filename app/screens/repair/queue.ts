import { groupBy } from '#core/multimap';
import type { BrokenLink } from '#server/views/operations/repair-view';

/** A line of the queue: one link, or all that miss the same file and are repaired together. */
export interface QueueEntry {
  link: BrokenLink;
  /** How many more links the line stands for. */
  more: number;
}

/**
 * Links that miss a file of the same name are one line, since one choice repairs them all; where the engineer wants to
 * choose for each, they are lines of their own.
 * @param current the link that is looked at: it speaks for its group
 * @param apart whether the group of the current link is looked at one by one
 */
export function queueEntries(
  queue: readonly BrokenLink[],
  current: string | null,
  apart: boolean,
): QueueEntry[] {
  return [...groupBy(queue, nameOf).values()].flatMap((links) => {
    const shown = links.find(({ key }) => key === current);
    if (shown && apart) return links.map((link) => ({ link, more: 0 }));
    return [{ link: shown ?? links[0]!, more: links.length - 1 }];
  });
}

function nameOf({ written }: BrokenLink): string {
  return written.split(/[\\/]/).at(-1)!.toLowerCase();
}

/**
 * The link that is looked at when some have been repaired: the next one behind the current one, else the first.
 * @param repaired `holder::written` of each
 * @returns null where none is left
 */
export function keyAfter(
  queue: readonly BrokenLink[],
  current: string,
  repaired: ReadonlySet<string>,
): string | null {
  const at = queue.findIndex(({ key }) => key === current);
  const isLeft = ({ holder, written }: BrokenLink) => !repaired.has(`${holder}::${written}`);
  return (queue.slice(at).find(isLeft) ?? queue.find(isLeft))?.key ?? null;
}
