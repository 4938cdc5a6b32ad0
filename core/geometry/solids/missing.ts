import { DoubleSide, Ray, Vector3 as ThreeVector } from 'three';
import type { MeshBVH } from 'three-mesh-bvh';
import { meshVolume } from '#core/geometry/shape/doubt';
import { treeOf } from '#core/geometry/shape/mesh-tree';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { areaOf, cornersOf, normalOf } from '#core/geometry/shape/triangles';
import { type Box, boxOfPositions, diagonalOf } from '#core/product/box';
import type { Vector3 } from '#core/product/matrix';
import { add, dot, offset, scale, subtract, unit } from '#core/product/vector';
import { boxOfSolid, manifoldLibrary, solidOf } from './manifold';

/** Part of a body's volume that two meshes of it may differ by, and of its diagonal, as the thickness of that. */
const OF_VOLUME = 0.05;
const OF_DIAGONAL = 0.006;

/** Places on a body from which it is looked into, and where on the way through. */
const PLACES = 80;
const ON_THE_WAY = [0.1, 0.3, 0.5, 0.7, 0.9];

/**
 * Whether places all through a body lie in one of some solids. A part of it as large as what would count as missing holds some of them all but
 * certainly; to compute it takes a hundred times as long.
 */
function isSampledIn(mesh: SolidMesh, trees: readonly MeshBVH[]): boolean {
  const own = treeOf(mesh);
  const count = mesh.triangles.length / 3;
  let area = 0;
  for (let n = 0; n < count; n++) area += areaOf(cornersOf(mesh, n));
  let [passed, looked] = [0, 0];
  for (let n = 0; n < count; n++) {
    const triangle = cornersOf(mesh, n);
    passed += areaOf(triangle);
    // Of large triangles a place for each part of them.
    for (; looked < PLACES && passed >= ((looked + 0.5) * area) / PLACES; looked++) {
      const [u, v] = [(looked * 0.618) % 1, (looked * 0.414) % 1];
      const [a, b] = u + v > 1 ? [1 - u, 1 - v] : [u, v];
      const point = add(
        triangle[0],
        add(scale(subtract(triangle[1], triangle[0]), a), scale(subtract(triangle[2], triangle[0]), b)),
      );
      const inwards = scale(normalOf(triangle), -1);
      const through = own.raycastFirst(rayFrom(offset(point, inwards, 1e-6), inwards), DoubleSide)?.distance;
      if (through === undefined) continue;
      for (const part of ON_THE_WAY)
        if (!trees.some((tree) => holds(tree, offset(point, inwards, part * through)))) return false;
    }
  }
  return looked > 0;
}

/** Whether a closed mesh holds a point: what is met first from there is seen from its inside. */
function holds(tree: MeshBVH, point: Vector3): boolean {
  const hit = tree.raycastFirst(rayFrom(point, SLANTED), DoubleSide);
  return hit?.face != null && dot([hit.face.normal.x, hit.face.normal.y, hit.face.normal.z], SLANTED) > 0;
}

/** Along no axis, and through no edge of what stands along them. */
const SLANTED: Vector3 = unit([0.5377, 0.2161, 0.8153]);

function rayFrom(point: Vector3, direction: Vector3): Ray {
  return new Ray(new ThreeVector(...point), new ThreeVector(...direction));
}

/**
 * What of some bodies is not in what they were united to: boxes of what is missing of each, mm. Bodies that are not closed are left aside, and
 * what meshes are off by does not count.
 */
export async function missingIn(bodies: readonly SolidMesh[], solids: readonly SolidMesh[]): Promise<Box[]> {
  const library = await manifoldLibrary();
  const whole = solids.flatMap((mesh) => solidOf(library, mesh) ?? []);
  const trees = solids.map(treeOf);
  const missing: Box[] = [];
  if (whole.length === solids.length)
    for (const mesh of bodies) {
      if (isSampledIn(mesh, trees)) continue;
      const body = solidOf(library, mesh);
      if (!body) continue;
      let rest = body;
      for (const solid of whole) {
        const less = rest.subtract(solid);
        rest.delete();
        rest = less;
      }
      const volume = rest.volume();
      const thin = OF_DIAGONAL * diagonalOf(boxOfPositions(mesh.positions));
      if (volume > OF_VOLUME * meshVolume(mesh) && volume > (thin * rest.surfaceArea()) / 2)
        missing.push(boxOfSolid(rest));
      rest.delete();
    }
  for (const solid of whole) solid.delete();
  return missing;
}
