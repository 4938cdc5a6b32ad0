import type { Copies } from './copy';
import type { Part21File } from './file';
import { ReferenceTable } from './references';

/**
 * Everything that some instances need: themselves, what they refer to, what that refers to, and so on.
 * References in circles are followed once; references to instances that are not there are left out.
 * @param known instances that are not followed and not returned
 */
export function closureOf(
  file: Part21File,
  starts: Iterable<number>,
  known?: { has(id: number): boolean },
): Set<number> {
  const { ids } = file.index;
  const positions = ReferenceTable.of(file).closure(
    positionsOf(file, starts),
    known && ((position) => known.has(ids[position]!)),
  );
  return new Set(Array.from(positions, (position) => ids[position]!));
}

/**
 * The same as positions in the file's index, in the order of the file.
 * @param copies are neither followed nor returned
 * @param base a closure that belongs to the result; see `ReferenceTable.closure`
 */
export function closurePositions(
  file: Part21File,
  starts: Iterable<number>,
  copies?: Copies,
  base?: Uint32Array,
): Uint32Array {
  const positions = positionsOf(file, starts);
  return ReferenceTable.of(file).closure(
    positions,
    copies && ((position) => copies.hasPosition(position)),
    base,
  );
}

function positionsOf(file: Part21File, ids: Iterable<number>): number[] {
  const positions: number[] = [];
  for (const id of ids) {
    const position = file.position(id);
    if (position !== undefined) positions.push(position);
  }
  return positions;
}
