import { append } from '#core/multimap';
import { eachReference } from './each-reference';
import type { Part21File } from './file';
import { type Edit, splice } from './splice';

/**
 * What leaves a file with some of its instances: those, all that refers to them, and of what they refer to all that nothing else uses.
 * @param mayLeave whether an instance that nothing else uses may leave so
 */
export function leavingWith(
  file: Part21File,
  named: (users: ReadonlyMap<number, readonly number[]>) => readonly number[],
  mayLeave: (id: number) => boolean,
): Set<number> {
  const { ids, contents, ends, count } = file.index;
  const users = new Map<number, number[]>();
  for (let n = 0; n < count; n++)
    eachReference(file.bytes, contents[n]!, ends[n]!, (referred) => append(users, referred, ids[n]!));
  const first = named(users);
  const leaving = new Set<number>(first);
  for (const id of first) for (const user of users.get(id) ?? []) leaving.add(user);
  for (const id of leaving) {
    eachReference(file.bytes, file.contentOf(id)!.content, file.contentOf(id)!.end, (referred) => {
      const isOnlyTheirs = (users.get(referred) ?? []).every((user) => leaving.has(user));
      if (isOnlyTheirs && mayLeave(referred)) leaving.add(referred);
    });
  }
  return leaving;
}

/**
 * The file without some of its instances, each with the line end behind it. Every other byte stays as it was.
 * @param leaving instances that nothing that stays refers to
 */
export function withoutInstances(file: Part21File, leaving: { has(id: number): boolean }): Uint8Array {
  const edits: Edit[] = [];
  for (let n = 0; n < file.index.count; n++)
    if (leaving.has(file.index.ids[n]!)) edits.push(removal(file, n));
  return splice(file.bytes, edits);
}

/** Takes one instance out, with the line end behind it. @param position in the index */
export function removal({ bytes, index }: Part21File, position: number): Edit {
  let end = index.ends[position]!;
  if (bytes[end] === 0x0d) end++;
  if (bytes[end] === 0x0a) end++;
  return { start: index.starts[position]!, end };
}
