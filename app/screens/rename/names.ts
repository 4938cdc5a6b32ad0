import { type NamePattern, renamed } from '#core/name-pattern';
import type { NamedPart } from '#server/views/operations/rename-view';

/** What was typed for single parts, by their keys. */
export interface Typed {
  readonly [key: string]: { id?: string; name?: string };
}

/** A part with what it shall be called. */
export interface NamedAnew extends NamedPart {
  newId: string;
  newName: string;
}

/** What parts are called: as typed, or else by the pattern where they are chosen. */
export function namedAnew(
  parts: readonly NamedPart[],
  { chosen, typed, pattern }: { chosen: ReadonlySet<string>; typed: Typed; pattern: NamePattern },
): NamedAnew[] {
  return parts.map((part) => {
    const { key, id, name } = part;
    const byPattern = (text: string) => (chosen.has(key) && text !== '' ? renamed(text, pattern) : text);
    return {
      ...part,
      newId: typed[key]?.id ?? byPattern(id),
      newName: typed[key]?.name ?? byPattern(name),
    };
  });
}

/** Those that are called something else, as an operation is told. */
export function toRename(parts: readonly NamedAnew[]) {
  return parts.flatMap(({ file, definition, id, name, newId, newName }) => {
    const anew = {
      ...(newId.trim() !== id && newId.trim() !== '' && { id: newId.trim() }),
      ...(newName.trim() !== name && newName.trim() !== '' && { name: newName.trim() }),
    };
    return Object.keys(anew).length === 0 ? [] : [{ file, part: String(definition), ...anew }];
  });
}
