import type { Manifold, ManifoldToplevel } from 'manifold-3d';
import { Vector3 as ThreeVector } from 'three';
import type { MeshBVH } from 'three-mesh-bvh';
import { treeOf } from '#core/geometry/shape/mesh-tree';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { centreOf, cornersOf, type Triangle } from '#core/geometry/shape/triangles';
import type { Box } from '#core/product/box';
import type { Vector3 } from '#core/product/matrix';
import { add, distance, dot, scale, unit } from '#core/product/vector';
import { boxOfSolid, manifoldLibrary, meshOf, solidOf } from './manifold';
import { type MeshUnion, uniteMeshes } from './mesh-union';

/** Pieces are halved so often at most: a thousand of them. */
const MOST_HALVINGS = 10;
/** Pieces overlap by this part of what they may stand off: what only touches would not become one. */
const OVERLAP = 1 / 50;
/** A hull of no more triangles than two boxes is not halved. */
const FEW = 24;
/** Triangles are quartered so often at most to look between their corners. */
const MOST_QUARTERINGS = 7;

/** Part of what an envelope may stand off that meshing and growing may take up. */
const OF_STAND_OFF = 1 / 8;

/** How near meshes have to lie to what an envelope is laid around, mm. @param standOff how far it may stand off, mm */
export function chordOfEnvelope(standOff: number): number {
  return OF_STAND_OFF * standOff;
}

/**
 * An envelope around closed meshes: nothing of what they were made from stands out, and it stands off by no more than asked. What is nearer to each
 * other than that may become one.
 * @param meshes no further off than `chordOfEnvelope`
 * @param standOff mm
 */
export async function envelopeAround(
  meshes: readonly SolidMesh[],
  standOff: number,
  guests: readonly Box[] = [],
): Promise<MeshUnion> {
  const chord = chordOfEnvelope(standOff);
  // Triangles lie inside of what is round: grown by as much they hold all of it.
  const united = await uniteMeshes(meshes, [], chord, guests);
  const pieces = await envelopePieces(united.solids, standOff - 2 * chord);
  return { ...(await uniteMeshes(pieces, [])), refused: united.refused };
}

/**
 * Convex pieces that hold all of some closed meshes, and stand off them nowhere by more than asked, of few triangles: a box where that is near
 * enough, a box with its edges and corners cut off, a hull, or the same around both halves, and so on: whatever comes to the fewest. Cost grows with
 * the triangles, and with the pieces.
 * @param within mm
 */
async function envelopePieces(meshes: readonly SolidMesh[], within: number): Promise<SolidMesh[]> {
  const library = await manifoldLibrary();
  return meshes.flatMap((mesh) => {
    const solid = solidOf(library, mesh);
    return solid ? (lightest({ library, within }, solid, 0, Infinity) ?? []) : [];
  });
}

interface Laying {
  library: ManifoldToplevel;
  /** How far pieces may stand off, mm. */
  within: number;
}

/** The lightest pieces around a solid, which is given back; null where they would be more triangles than a limit. */
function lightest(laying: Laying, solid: Manifold, halvings: number, limit: number): SolidMesh[] | null {
  const { library, within } = laying;
  const tree = treeOf(meshOf(solid));
  const fits = (piece: SolidMesh) => isNear(piece, tree, within);
  try {
    for (const make of [boxAround, cutBoxAround]) {
      const piece = taken(make(library, solid));
      if (trianglesOf([piece]) <= limit && fits(piece)) return [piece];
    }
    const hull = taken(solid.hull());
    const isEnough = halvings >= MOST_HALVINGS || fits(hull);
    const size = trianglesOf([hull]);
    const whole = isEnough && size <= limit ? [hull] : null;
    if (isEnough && (size <= FEW || halvings >= MOST_HALVINGS)) return whole;
    return lightestHalves(laying, solid, halvings + 1, whole ? size - 1 : limit) ?? whole;
  } finally {
    solid.delete();
  }
}

function lightestHalves(
  laying: Laying,
  solid: Manifold,
  halvings: number,
  limit: number,
): SolidMesh[] | null {
  const pieces: SolidMesh[] = [];
  const halves = halvesOf(solid, OVERLAP * laying.within);
  for (const [n, half] of halves.entries()) {
    const own = lightest(laying, half, halvings, limit - trianglesOf(pieces));
    if (!own) {
      for (const rest of halves.slice(n + 1)) rest.delete();
      return null;
    }
    pieces.push(...own);
  }
  return pieces;
}

function trianglesOf(pieces: readonly SolidMesh[]): number {
  return pieces.reduce((sum, { triangles }) => sum + triangles.length / 3, 0);
}

/** A solid of the library as a mesh; the solid is given back. */
function taken(solid: Manifold): SolidMesh {
  const mesh = meshOf(solid);
  solid.delete();
  return mesh;
}

function boxAround({ Manifold: Solid }: ManifoldToplevel, solid: Manifold): Manifold {
  const [x, y, z, toX, toY, toZ] = boxOfSolid(solid);
  const cube = Solid.cube([toX - x, toY - y, toZ - z], false);
  const box = cube.translate([x, y, z]);
  cube.delete();
  return box;
}

/** A box whose edges and corners are cut off as far as the solid allows. */
function cutBoxAround(library: ManifoldToplevel, solid: Manifold): Manifold {
  const { positions } = meshOf(solid);
  let box = boxAround(library, solid);
  for (const direction of SLANTED) {
    let most = -Infinity;
    for (let n = 0; n < positions.length; n += 3)
      most = Math.max(most, dot(direction, [positions[n]!, positions[n + 1]!, positions[n + 2]!]));
    const cut = box.trimByPlane(scale(direction, -1) as [number, number, number], -most);
    box.delete();
    box = cut;
  }
  return box;
}

/** Directions between those of the axes: across the edges of a cube, and through its corners. */
const SLANTED: readonly Vector3[] = [-1, 0, 1]
  .flatMap((x) => [-1, 0, 1].flatMap((y) => [-1, 0, 1].map((z): Vector3 => [x, y, z])))
  .filter((direction) => direction.filter((value) => value !== 0).length > 1)
  .map(unit);

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

/** Whether a piece stands off what it is around by no more than that anywhere. */
function isNear(piece: SolidMesh, tree: MeshBVH, within: number): boolean {
  for (let n = 0; n < piece.triangles.length / 3; n++)
    if (!isTriangleNear(cornersOf(piece, n), tree, within)) return false;
  return true;
}

/** From its middle out a triangle can be no further off than it is large: where that does not tell, its quarters are looked at. */
function isTriangleNear(corners: Triangle, tree: MeshBVH, within: number, depth = 0): boolean {
  const middle = centreOf(corners);
  const off = tree.closestPointToPoint(new ThreeVector(...middle))?.distance ?? Infinity;
  const size = Math.max(...corners.map((corner) => distance(corner, middle)));
  if (off > within) return false;
  if (off + size <= within || depth >= MOST_QUARTERINGS) return true;
  const [a, b, c] = corners;
  const half = (one: Vector3, other: Vector3) => scale(add(one, other), 0.5);
  const [ab, bc, ca] = [half(a, b), half(b, c), half(c, a)];
  const quarters: Triangle[] = [
    [a, ab, ca],
    [b, bc, ab],
    [c, ca, bc],
    [ab, bc, ca],
  ];
  return quarters.every((quarter) => isTriangleNear(quarter, tree, within, depth + 1));
}
