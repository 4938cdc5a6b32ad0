import { createHash } from 'node:crypto';
import { closurePositions } from '#core/files/part21/closure';
import type { Part21File } from '#core/files/part21/file';

/**
 * A digest of all that the kernel makes the shapes of some bodies from: the text of their geometry, with its numbers, and
 * the contexts with units and uncertainty. Two contents of one digest have the same shapes, also when their names,
 * colours, links or headers differ. Cost grows with the text of the bodies, about as for hashing it.
 * @param bodies numbers of the body entities; the same ones in another order are the same
 * @returns SHA-256, hexadecimal
 */
export function geometryDigest(file: Part21File, bodies: readonly number[]): string {
  const wanted = new Set(bodies);
  const contexts = new Set<number>();
  for (const keyword of new Set(file.index.keywords)) {
    if (!keyword.endsWith('REPRESENTATION')) continue;
    for (const id of file.idsOfType(keyword)) {
      const context = file.referenceOf(id, 2);
      if (context !== undefined && file.referencesOf(id, 1).some((item) => wanted.has(item)))
        contexts.add(context);
    }
  }
  const hash = createHash('sha256');
  hash.update([...wanted].sort((a, b) => a - b).join(' '));
  const { starts, ends } = file.index;
  for (const position of closurePositions(file, [...wanted, ...contexts]))
    hash.update(file.bytes.subarray(starts[position]!, ends[position]!));
  return hash.digest('hex');
}
