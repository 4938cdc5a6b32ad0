import type { Manifold } from 'manifold-3d';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { boxOfPositions, diagonalOf, doBoxesMeet } from '#core/product/box';
import type { Matrix4 } from '#core/product/matrix';
import { boxOfSolid, columnsOf, manifoldLibrary, solidOf } from './manifold';

/** A closed mesh where it stands. */
export interface StandingSolid {
  mesh: SolidMesh;
  placement: Matrix4;
}

/** What of a solid lies in others. */
export interface Sunk {
  /** Of its volume, what lies in none of them; 0 to 1. */
  outside: number;
  /** Positions of those that it lies in, in part at least. */
  hosts: number[];
}

/** Part of a mesh's diagonal by which it may be off, and mm at most. */
const OFF = 0.0012;
const MOST_OFF = 2;
/** Of a volume: less than this is what meshes are off by. */
const ALL = 0.005;

/**
 * Which of some solids lie in others, wholly or in part. What touches only, or is thinner in common than meshes are off, does not count.
 * Meshes that are not closed are left aside. Cost grows with the pairs whose boxes meet.
 * @param solids undefined for what is not asked about
 * @param mayHold whether one may hold another, by position
 */
export async function sunkSolids(
  solids: readonly (StandingSolid | undefined)[],
  mayHold: (host: number, guest: number) => boolean,
): Promise<Map<number, Sunk>> {
  const library = await manifoldLibrary();
  // Bodies that are placed often are taken up once.
  const shapes = new Map<SolidMesh['positions'], Manifold | null>();
  const offs = solids.map((solid) =>
    solid ? Math.min(MOST_OFF, OFF * diagonalOf(boxOfPositions(solid.mesh.positions))) : 0,
  );
  const placed = solids.map((solid) => {
    if (!solid) return null;
    const { positions } = solid.mesh;
    if (!shapes.has(positions)) shapes.set(positions, solidOf(library, solid.mesh));
    return shapes.get(positions)?.transform(columnsOf(solid.placement)) ?? null;
  });
  const boxes = placed.map((solid) => (solid ? boxOfSolid(solid) : null));
  const sunk = new Map<number, Sunk>();
  for (const [guest, solid] of placed.entries()) {
    if (!solid) continue;
    let rest: Manifold = solid;
    const hosts: number[] = [];
    for (const [host, other] of placed.entries()) {
      if (host === guest || !other || !doBoxesMeet(boxes[guest]!, boxes[host]!) || !mayHold(host, guest))
        continue;
      const common = solid.intersect(other);
      const [volume, area] = [common.volume(), common.surfaceArea()];
      common.delete();
      const thin = offs[guest]! + offs[host]!;
      if (volume <= (thin * area) / 2 && volume < (1 - ALL) * solid.volume()) continue;
      hosts.push(host);
      const less = rest.subtract(other);
      if (rest !== solid) rest.delete();
      rest = less;
    }
    const left = rest.volume() / solid.volume();
    if (hosts.length > 0) sunk.set(guest, { outside: left < ALL ? 0 : left, hosts });
    if (rest !== solid) rest.delete();
  }
  for (const solid of [...placed, ...shapes.values()]) solid?.delete();
  return sunk;
}
