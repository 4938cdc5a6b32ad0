import { Vector3 as ThreeVector } from 'three';
import type { MeshBVH } from 'three-mesh-bvh';
import { treeOf } from '#core/geometry/shape/mesh-tree';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { centreOf, cornersOf } from '#core/geometry/shape/triangles';
import { invertRigid, type Matrix4, transformPoint, type Vector3 } from '#core/product/matrix';

/** A mesh as it stands. */
export interface PlacedMesh extends SolidMesh {
  placement: Matrix4;
}

/** The largest of many distances, and where it is. */
export interface Deviation {
  /** mm. */
  max: number;
  at: Vector3 | null;
  /** How many points were tried. */
  points: number;
}

/** Finds how far points lie from a model: a tree for each different mesh, in its own coordinates. */
export class DistanceTo {
  private readonly trees = new Map<Float32Array, MeshBVH>();

  constructor(private readonly meshes: readonly PlacedMesh[]) {}

  /** mm; Infinity where there is nothing. */
  from(point: Vector3, notFurtherThan = Infinity): number {
    let least = notFurtherThan;
    for (const mesh of this.meshes) {
      const own = transformPoint(invertRigid(mesh.placement), point);
      const found = this.treeOf(mesh).closestPointToPoint(new ThreeVector(...own), undefined, 0, least);
      if (found && found.distance < least) least = found.distance;
    }
    return least;
  }

  private treeOf(mesh: PlacedMesh): MeshBVH {
    let tree = this.trees.get(mesh.positions);
    if (!tree) {
      tree = treeOf(mesh);
      this.trees.set(mesh.positions, tree);
    }
    return tree;
  }
}

/** The largest distance of some points from a model. */
export function deviationOf(points: readonly Vector3[], meshes: readonly PlacedMesh[]): Deviation {
  const distance = new DistanceTo(meshes);
  let [max, at]: [number, Vector3 | null] = [0, null];
  for (const point of points) {
    const found = distance.from(point);
    if (found <= max) continue;
    max = found;
    at = point;
  }
  return { max, at, points: points.length };
}

/** Points on a face of a mesh as it stands: a few, in the middles of triangles. */
export function pointsOn(
  { placement, ...mesh }: PlacedMesh,
  faceGroups: Uint32Array,
  face: number,
  most: number,
): Vector3[] {
  const [from, count] = [faceGroups[2 * face]! / 3, faceGroups[2 * face + 1]! / 3];
  const step = Math.max(1, Math.ceil(count / most));
  const points: Vector3[] = [];
  for (let n = from; n < from + count; n += step)
    points.push(transformPoint(placement, centreOf(cornersOf(mesh, n))));
  return points;
}
