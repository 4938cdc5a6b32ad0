import { DoubleSide, Ray, Vector3 as ThreeVector } from 'three';
import type { MeshBVH } from 'three-mesh-bvh';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { treeOf } from '#core/geometry/shape/mesh-tree';
import { finestMesh } from '#core/geometry/shape/solid-mesh';
import { boxOfBodies } from '#core/geometry/whole/whole';
import type { Box } from '#core/product/box';
import { invertRigid, type Matrix4, transformPoint, type Vector3 } from '#core/product/matrix';
import type { FilledBody } from './filled-parts';
import type { ReducedWhole } from './reduced-whole';

/** Names an opening of a shape, whatever else is filled. */
export function openingKey(shape: number, faces: readonly number[]): string {
  return `${shape} ${Math.min(...faces)}`;
}

/** A body with openings that were filled, where it stands. */
export interface FilledPlace {
  /** Of the body in the whole. */
  n: number;
  /** In the whole. */
  box: Box;
  shape: number;
  mesh: GeometryOfBody;
  filled: FilledBody;
  /** From the whole into the body. */
  back: Matrix4;
}

/** The space that filling took away. */
export class FilledSpace {
  private readonly places: FilledPlace[];
  private readonly trees = new Trees();

  constructor({ whole, decision, filled }: Pick<ReducedWhole, 'whole' | 'decision' | 'filled'>) {
    this.places = whole.bodies.flatMap(({ shape, placement }, n) => {
      const { file, body, mesh } = whole.shapes[shape]!;
      const own = filled.get(file)?.bodies.get(body.id);
      if (decision.bodies[n] !== null || !own || !mesh) return [];
      return [{ n, box: boxOfBodies(whole, [n]), shape, mesh, filled: own, back: invertRigid(placement) }];
    });
  }

  /** Where a body can lie in something that was filled. */
  placesBeside(box: Box): FilledPlace[] {
    return this.places.filter(({ box: own }) =>
      [0, 1, 2].every((axis) => own[axis]! < box[axis + 3]! && own[axis + 3]! > box[axis]!),
    );
  }

  /** Keys of the openings at some places that a point of the whole lies in. */
  *openingsAt(point: Vector3, places: readonly FilledPlace[]): Iterable<string> {
    for (const { shape, mesh, filled, back } of places) {
      const at = transformPoint(back, point);
      if (!isInBox(filled.geometry.box, at)) continue;
      if (!this.trees.isInside(filled.geometry, at) || this.trees.isInside(mesh, at)) continue;
      const faces = new Set(filled.openings.flatMap((opening) => opening.faces));
      const face = this.trees.nearestFace(mesh, at, faces);
      const opening = filled.openings.find((candidate) => candidate.faces.includes(face));
      if (opening) yield openingKey(shape, opening.faces);
    }
  }
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
