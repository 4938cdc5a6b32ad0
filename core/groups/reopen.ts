import { DoubleSide, Ray, Vector3 as ThreeVector } from 'three';
import type { MeshBVH } from 'three-mesh-bvh';
import type { ReducedWhole } from '#core/lite/plan';
import { invertRigid, multiply, transformPoint, type Vector3 } from '#core/product/matrix';
import type { GeometryOfBody } from '#core/shape/gltf';
import { treeOf } from '#core/shape/mesh-tree';
import { finestMesh } from '#core/shape/solid-mesh';
import { centreOf, cornersOf } from '#core/shape/triangles';

/** Points of a body that are tried against what was filled in another group. */
const POINTS = 600;

/** Names an opening of a shape, whatever else is filled. */
export function openingKey(shape: number, faces: readonly number[]): string {
  return `${shape} ${Math.min(...faces)}`;
}

/**
 * Openings that were filled although something of another group stands in them: a shaft in its bore. They have to stay open.
 * @returns keys of openings, by `openingKey`
 */
export function metOpenings(own: ReducedWhole, others: readonly ReducedWhole[]): Set<string> {
  const met = new Set<string>();
  const trees = new Trees();
  for (const [n, { shape, placement }] of own.whole.bodies.entries()) {
    if (own.decision.bodies[n] !== null) continue;
    const { file, body, mesh } = own.whole.shapes[shape]!;
    const filled = own.filled.get(file)?.bodies.get(body.id);
    if (!filled || !mesh) continue;
    const back = invertRigid(placement);
    for (const other of others)
      for (const [k, standing] of other.whole.bodies.entries()) {
        if (other.decision.bodies[k] !== null) continue;
        const guest = other.whole.shapes[standing.shape]!.mesh;
        if (!guest) continue;
        const into = multiply(back, standing.placement);
        for (const point of somePoints(guest)) {
          const at = transformPoint(into, point);
          if (!isInBox(filled.geometry.box, at)) continue;
          if (!trees.isInside(filled.geometry, at) || trees.isInside(mesh, at)) continue;
          const face = trees.nearestFace(mesh, at, new Set(filled.openings.flatMap(({ faces }) => faces)));
          const opening = filled.openings.find(({ faces }) => faces.includes(face));
          if (opening) met.add(openingKey(shape, opening.faces));
        }
      }
  }
  return met;
}

function* somePoints(mesh: GeometryOfBody): Iterable<Vector3> {
  const finest = finestMesh(mesh);
  const count = finest.triangles.length / 3;
  const step = Math.max(1, Math.ceil(count / POINTS));
  for (let n = 0; n < count; n += step) yield centreOf(cornersOf(finest, n));
}

function isInBox(box: readonly number[], point: Vector3): boolean {
  return [0, 1, 2].every((axis) => point[axis as 0] > box[axis]! && point[axis as 0] < box[axis + 3]!);
}

/** A direction along nothing that engineers draw. */
const ASKEW = new ThreeVector(0.5773, 0.5811, 0.5735).normalize();

class Trees {
  private readonly known = new Map<GeometryOfBody, MeshBVH>();

  isInside(mesh: GeometryOfBody, point: Vector3): boolean {
    const hits = this.of(mesh).raycast(new Ray(new ThreeVector(...point), ASKEW), DoubleSide);
    return hits.length % 2 === 1;
  }

  /** The nearest of some faces, by position. */
  nearestFace(mesh: GeometryOfBody, point: Vector3, faces: ReadonlySet<number>): number {
    const { positions, faceGroups, levels } = mesh;
    const { triangles } = levels[0]!;
    let [best, least] = [-1, Infinity];
    for (const face of faces) {
      const [from, count] = [faceGroups[2 * face]!, faceGroups[2 * face + 1]!];
      for (let n = from; n < from + count; n++) {
        const at = 3 * triangles[n]!;
        const off = Math.hypot(
          positions[at]! - point[0],
          positions[at + 1]! - point[1],
          positions[at + 2]! - point[2],
        );
        if (off < least) [best, least] = [face, off];
      }
    }
    return best;
  }

  private of(mesh: GeometryOfBody): MeshBVH {
    let known = this.known.get(mesh);
    if (!known) {
      known = treeOf(finestMesh(mesh));
      this.known.set(mesh, known);
    }
    return known;
  }
}
