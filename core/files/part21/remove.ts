import type { Part21File } from './file';
import { type Edit, splice } from './splice';

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
