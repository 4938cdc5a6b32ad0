import type { Manifold } from 'manifold-3d';
import { Vector3 as ThreeVector } from 'three';
import { treeOf } from '#core/geometry/shape/mesh-tree';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { centreOf, cornersOf } from '#core/geometry/shape/triangles';
import type { Vector3 } from '#core/product/matrix';
import { add, distance, scale } from '#core/product/vector';
import { boxOfSolid, manifoldLibrary, meshOf, solidOf } from './manifold';

/** Pieces are halved so often at most: a thousand of them. */
const MOST_HALVINGS = 10;
/** Pieces overlap by this part of what they may stand off: what only touches would not become one. */
const OVERLAP = 1 / 50;

/**
 * Convex pieces that hold all of some closed meshes, and stand off them nowhere by more than asked: a hull around everything, and where that
 * stands too far off, hulls around both halves, and so on. Cost grows with the triangles, and with the pieces.
 * @param within mm
 */
export async function envelopePieces(meshes: readonly SolidMesh[], within: number): Promise<SolidMesh[]> {
  const library = await manifoldLibrary();
  const waiting = meshes.flatMap((mesh) => {
    const solid = solidOf(library, mesh);
    return solid ? [{ solid, halvings: 0 }] : [];
  });
  const pieces: SolidMesh[] = [];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const { solid, halvings } = next;
    const hull = solid.hull();
    const piece = meshOf(hull);
    hull.delete();
    if (halvings >= MOST_HALVINGS || standsOff(piece, meshOf(solid)) <= within) pieces.push(piece);
    else
      for (const half of halvesOf(solid, OVERLAP * within))
        waiting.push({ solid: half, halvings: halvings + 1 });
    solid.delete();
  }
  return pieces;
}

/** Both sides of a plane through the middle, across the longest side. */
function halvesOf(solid: Manifold, overlap: number): Manifold[] {
  const box = boxOfSolid(solid);
  const sides = [0, 1, 2].map((axis) => box[axis + 3]! - box[axis]!);
  const axis = sides.indexOf(Math.max(...sides));
  const middle = (box[axis]! + box[axis + 3]!) / 2;
  const along = (sign: 1 | -1) => [0, 1, 2].map((n) => (n === axis ? sign : 0)) as [number, number, number];
  const halves = [
    solid.trimByPlane(along(1), middle - overlap),
    solid.trimByPlane(along(-1), -middle - overlap),
  ];
  return halves.filter((half) => {
    if (half.volume() > 0) return true;
    half.delete();
    return false;
  });
}

/** How far a hull stands off what it is around at most, mm; its corners do not. */
function standsOff(hull: SolidMesh, mesh: SolidMesh): number {
  const tree = treeOf(mesh);
  let most = 0;
  for (let n = 0; n < hull.triangles.length / 3; n++)
    for (const point of placesOn(cornersOf(hull, n))) {
      const hit = tree.closestPointToPoint(new ThreeVector(...point));
      most = Math.max(most, hit?.distance ?? 0);
    }
  return most;
}

/** The middle of a triangle, those of its sides, and those of the four quarters between. */
function placesOn(corners: ReturnType<typeof cornersOf>): Vector3[] {
  const [a, b, c] = corners;
  const half = (one: Vector3, other: Vector3) => scale(add(one, other), 0.5);
  const [ab, bc, ca] = [half(a, b), half(b, c), half(c, a)];
  if (distance(a, b) + distance(b, c) < 1e-6) return [];
  const middles = [
    [a, ab, ca],
    [b, bc, ab],
    [c, ca, bc],
  ] as const;
  return [centreOf(corners), ab, bc, ca, ...middles.map((quarter) => centreOf([...quarter]))];
}
