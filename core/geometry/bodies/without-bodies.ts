import { closureOf } from '#core/files/part21/closure';
import { eachReference } from '#core/files/part21/each-reference';
import { listRange } from '#core/files/part21/extend';
import { Part21File } from '#core/files/part21/file';
import { removal } from '#core/files/part21/remove';
import { type Edit, splice } from '#core/files/part21/splice';
import { Refusal } from '#core/refusal';
import type { SourcePart } from './source-part';

/**
 * The source without some of its bodies: their instances are taken out, with the styles that only they have, and they
 * are struck from the lists that name them. Every other byte stays as it was.
 * @throws Refusal when no body would be left
 */
export function withoutBodies(source: SourcePart, gone: ReadonlySet<number>): Uint8Array {
  const { file } = source;
  const leaving = source.bodies.filter(({ id }) => gone.has(id));
  if (leaving.length === source.bodies.length)
    throw new Refusal(
      `${source.path} would be left without bodies. Keep it, or let the assembly take its place.`,
    );

  // 1. What may go: all that the bodies and their styles need. Lists are edited, not followed.
  const texts = leaving.map((body) => source.textOf(body));
  const struck = new Set<number>(texts.flatMap(({ body, styles }) => [body.id, ...styles]));
  const positions = new Map<number, number>();
  for (const { representation, lists } of texts) {
    positions.set(representation, 1);
    for (const { id, position } of lists) positions.set(id, position);
  }
  const candidates = closureOf(
    file,
    [
      ...struck,
      ...texts.flatMap(({ geometry }) => Array.from(geometry, (position) => file.index.ids[position]!)),
    ],
    positions,
  );
  for (const text of texts)
    for (const { items } of text.lists) for (const item of items) if (candidates.has(item)) struck.add(item);

  // 2. What stays after all: whatever something else refers to, other than the lists it is struck from.
  const staying = new Set<number>();
  for (let n = 0; n < file.index.count; n++) {
    const id = file.index.ids[n]!;
    if (!candidates.has(id)) staying.add(id);
  }
  for (const id of staying) {
    const { content, end } = file.contentOf(id)!;
    eachReference(file.bytes, content, end, (referred) => {
      if (candidates.has(referred) && !(positions.has(id) && struck.has(referred))) staying.add(referred);
    });
  }

  // 3. The instances that go, and the lists that are shorter.
  const edits: Edit[] = [];
  const { ids, count } = file.index;
  for (let n = 0; n < count; n++) {
    const id = ids[n]!;
    const position = positions.get(id);
    if (!staying.has(id)) edits.push(removal(file, n));
    else if (position !== undefined) {
      const kept = file
        .referencesOf(id, position)
        .filter((item) => staying.has(item) || !struck.has(item))
        .map((item) => `#${item}`);
      edits.push({ ...listRange(file, id, position)!, content: Buffer.from(`(${kept.join(',')})`) });
    }
  }
  const bytes = splice(file.bytes, edits);
  Part21File.read(bytes);
  return bytes;
}
