import { listEdit } from '#core/files/part21/extend';
import type { Part21File } from '#core/files/part21/file';
import { referencesOf } from '#core/files/part21/parameters';
import { NOWHERE, ReferenceTable } from '#core/files/part21/references';
import type { Edit } from '#core/files/part21/splice';

/** The lists of references among the parameters of a simple instance, by their places. */
export function listsOf(file: Part21File, id: number): { position: number; items: number[] }[] {
  if (!file.typeOf(id)) return [];
  return (file.parameters(id) ?? []).flatMap((parameter, position) => {
    const items = referencesOf(parameter);
    return items.length > 0 ? [{ position, items }] : [];
  });
}

/** Lists without what goes; null where something that goes stands in no list, or nothing would be left of one. */
export function withoutGone(file: Part21File, id: number, goes: (id: number) => boolean): Edit[] | null {
  const edits: Edit[] = [];
  const listed = new Set<number>();
  for (const { position, items } of listsOf(file, id)) {
    for (const item of items) listed.add(item);
    const left = items.filter((item) => !goes(item));
    if (left.length === items.length) continue;
    if (left.length === 0) return null;
    edits.push(listEdit(file, id, position, left));
  }
  const ids = targetsOf(file, file.position(id)!).map((target) => file.index.ids[target]!);
  return ids.every((target) => listed.has(target) || !goes(target)) ? edits : null;
}

/** Positions of what an instance refers to. */
export function targetsOf(file: Part21File, position: number): number[] {
  const { first, targets } = ReferenceTable.of(file);
  return [...targets.subarray(first[position]!, first[position + 1]!)].filter((target) => target !== NOWHERE);
}

/** What refers to each instance of a file: by positions, in plain arrays. Linear in the references. */
export class Users {
  private readonly first: Uint32Array;
  private readonly users: Uint32Array;

  constructor(file: Part21File) {
    const { count } = file.index;
    const { first: from, targets } = ReferenceTable.of(file);
    const first = new Uint32Array(count + 2);
    // Counted one place further on, so that the filling leaves each start where the next one begins.
    for (const target of targets) if (target !== NOWHERE) first[target + 2]!++;
    for (let position = 2; position < count + 2; position++) first[position]! += first[position - 1]!;
    const users = new Uint32Array(first[count + 1]!);
    for (let position = 0; position < count; position++)
      for (let at = from[position]!; at < from[position + 1]!; at++) {
        const target = targets[at]!;
        if (target !== NOWHERE) users[first[target + 1]!++] = position;
      }
    this.first = first;
    this.users = users;
  }

  /** One that refers twice stands there twice. */
  of(position: number): Uint32Array {
    return this.users.subarray(this.first[position]!, this.first[position + 1]!);
  }
}

/** Positions of what only leaving instances refer to. @param isKept of what something else refers to, too */
export function orphansOf(
  file: Part21File,
  users: Users,
  leaving: ReadonlySet<number>,
  isKept: (position: number) => boolean = () => false,
): number[] {
  const found = new Set(leaving);
  const open = [...leaving];
  for (let position = open.pop(); position !== undefined; position = open.pop())
    for (const target of targetsOf(file, position)) {
      if (found.has(target) || isKept(target)) continue;
      if (!users.of(target).every((user) => found.has(user))) continue;
      found.add(target);
      open.push(target);
    }
  return [...found].filter((position) => !leaving.has(position));
}
