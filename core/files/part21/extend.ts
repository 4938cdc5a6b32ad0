import { Refusal } from '#core/refusal';
import { Part21Error } from './errors';
import type { Part21File } from './file';
import { parameterStart } from './one-parameter';
import { skipBlank } from './parameters';
import { type Edit, splice } from './splice';
import { Part21Builder } from './write';

/** The byte range of a parameter that is a list of references, with its parentheses; undefined when it is none. */
export function listRange(
  file: Part21File,
  id: number,
  position: number,
): { start: number; end: number } | undefined {
  const content = file.contentOf(id);
  const keyword = file.typeOf(id);
  if (!content || !keyword) return undefined;
  const opening = skipBlank(file.bytes, content.content + keyword.length, content.end);
  const start = parameterStart(file.bytes, opening, content.end, position);
  if (file.bytes[start] !== 0x28) return undefined;
  let at = start;
  while (at < content.end && file.bytes[at] !== 0x29) at++;
  return { start, end: at + 1 };
}

/**
 * What a parameter that is a list of references becomes.
 * @throws Part21Error where it is no list
 */
export function listEdit(file: Part21File, id: number, position: number, items: readonly number[]): Edit {
  const range = listRange(file, id, position);
  if (!range)
    throw new Part21Error(file.bytes, file.rangeOf(id)!.start, `#${id} has no list`, 'a list of references');
  return { ...range, content: Buffer.from(`(${items.map((item) => `#${item}`).join(',')})`) };
}

/** The instances of a builder behind the file's last one; nothing where there are none. @param builder from `builderAfter` */
export function instancesEdit(file: Part21File, builder: Part21Builder): Edit[] {
  const added = builder.instances();
  if (added.length === 0) return [];
  let last = 0;
  for (let n = 0; n < file.index.count; n++) last = Math.max(last, file.index.ends[n]!);
  return [{ start: last, end: last, content: Buffer.concat([Buffer.from('\n'), trimmed(added)]) }];
}

/** More items for a parameter that is a list of references. */
export interface ListAddition {
  id: number;
  position: number;
  items: readonly number[];
}

/** A builder whose instances can be added to a file that is there: its numbers go on after the file's. */
export function builderAfter(file: Part21File): Part21Builder {
  return new Part21Builder(file.highest + 1);
}

/** The largest number that instances are given here: larger ones are read, by some systems not. */
const HIGHEST = 2 ** 31 - 1;

/**
 * A builder whose numbers are free in a file for so many instances: behind the file's own where there is room, or else in the first gap.
 * @throws Refusal where there is none
 */
export function builderWithRoom(file: Part21File, count: number): Part21Builder {
  if (file.highest + count <= HIGHEST) return builderAfter(file);
  const ids = file.index.ids.slice(0, file.index.count).sort();
  let free = 1;
  for (const id of ids) {
    if (id - free >= count) break;
    free = id + 1;
  }
  if (free + count > HIGHEST)
    throw new Refusal('Its instances are numbered so that there is no room for more.');
  return new Part21Builder(free);
}

/**
 * The file with more instances behind its last one, and more items in some of its lists. Every other byte stays as it
 * was.
 * @param builder from `builderAfter`
 * @throws RangeError when a parameter that shall get items is no list
 */
export function extended(
  file: Part21File,
  builder: Part21Builder,
  additions: readonly ListAddition[],
): Uint8Array {
  const edits = instancesEdit(file, builder);
  const byList = new Map<string, { id: number; position: number; items: number[] }>();
  for (const { id, position, items } of additions) {
    const list = byList.get(`${id} ${position}`) ?? { id, position, items: [] };
    list.items.push(...items);
    byList.set(`${id} ${position}`, list);
  }
  for (const { id, position, items } of byList.values()) {
    const list = listRange(file, id, position);
    if (!list) throw new RangeError(`parameter ${position} of #${id} is not a list`);
    const before = file.referencesOf(id, position).length > 0 ? ',' : '';
    const content = Buffer.from(before + items.map((item) => `#${item}`).join(','));
    edits.push({ start: list.end - 1, end: list.end - 1, content });
  }
  return splice(
    file.bytes,
    edits.sort((a, b) => a.start - b.start),
  );
}

/** Without the line end that the file has already. */
function trimmed(lines: Uint8Array): Uint8Array {
  return lines.at(-1) === 0x0a ? lines.subarray(0, -1) : lines;
}
