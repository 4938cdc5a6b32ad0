import { eachReference } from './closure';
import { Part21Error } from './errors';
import type { Part21File } from './file';
import type { Reference } from './parameters';
import type { Part21Builder } from './write';

/**
 * Copies instances into a file that is being built: the text stays as it is written, to the last digit, only the
 * numbers of the instances change. The copies stand in the order of the original.
 * @param ids closed under references, but for those in `copies`
 * @param copies what references become; the new numbers are added to it
 * @throws Part21Error when an instance refers to one that is neither copied nor given
 */
export function copyInstances(
  file: Part21File,
  ids: Iterable<number>,
  builder: Part21Builder,
  copies: Map<number, Reference> = new Map(),
): Map<number, Reference> {
  const ordered = [...ids]
    .filter((id) => !copies.has(id))
    .sort((a, b) => startOf(file, a) - startOf(file, b));
  for (const id of ordered) copies.set(id, builder.reserve());
  const text = Buffer.from(file.bytes.buffer, file.bytes.byteOffset, file.bytes.byteLength);
  for (const id of ordered) {
    const { content, end } = file.contentOf(id)!;
    let written = '';
    let from = content;
    eachReference(file.bytes, content, end, (referred, start, after) => {
      const copy = copies.get(referred);
      if (!copy)
        throw new Part21Error(
          file.bytes,
          start,
          `#${id} refers to #${referred}, which is not there`,
          'an instance',
        );
      written += `${text.toString('latin1', from, start)}#${copy.id}`;
      from = after;
    });
    builder.addText(copies.get(id)!, written + text.toString('latin1', from, end));
  }
  return copies;
}

function startOf(file: Part21File, id: number): number {
  return file.rangeOf(id)?.start ?? 0;
}
