import type { ChangeSet } from '#core/change/change-set';
import { withoutSource } from '#core/formats/step/source';
import { baseName } from '#core/links/paths';
import type { Planning } from '#core/operation';
import { Refusal } from '#core/refusal';

export interface DetachChoices {
  source: string;
  /** Files that came out of the source; all of them when it is null. */
  paths: readonly string[] | null;
}

/**
 * Plans to detach files from their source: they stay as they are and no longer follow it.
 * @throws Refusal when none of them came out of it
 */
export async function planDetach(
  { project, draft }: Planning,
  { source, paths }: DetachChoices,
): Promise<ChangeSet> {
  const links = (project.usedBy.get(source) ?? []).filter(
    (link) => link.source && (paths === null || paths.includes(link.from)),
  );
  if (links.length === 0) throw new Refusal(`None of these files came out of ${source}.`);
  for (const { from, written } of links) draft.write(from, withoutSource(await draft.read(from), written));
  return draft.finish(
    `Detached ${links.length === 1 ? baseName(links[0]!.from) : `${links.length} files`} from ${baseName(source)}`,
  );
}
