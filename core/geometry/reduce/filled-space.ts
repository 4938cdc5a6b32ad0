import { DoubleSide, Ray, Vector3 as ThreeVector } from 'three';
import type { MeshBVH } from 'three-mesh-bvh';
import type { Opening } from '#core/geometry/fill/openings';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { treeOf } from '#core/geometry/shape/mesh-tree';
import { finestMesh, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import { centreOf, cornersOf } from '#core/geometry/shape/triangles';
import { differencePieces } from '#core/geometry/solids/difference';
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
  placement: Matrix4;
  /** From the whole into the body. */
  back: Matrix4;
}

/** A piece of what filled an opening, where it stands. */
export interface Plug {
  mesh: SolidMesh;
  placement: Matrix4;
  /** Its key. */
  opening: string;
}

/** Triangles of a piece that are asked which opening it filled. */
const VOTES = 40;

/** The space that filling took away. */
export class FilledSpace {
  private readonly places: FilledPlace[];
  private readonly trees = new Trees();

  constructor({ whole, decision, filled }: Pick<ReducedWhole, 'whole' | 'decision' | 'filled'>) {
    this.places = whole.bodies.flatMap(({ shape, placement }, n) => {
      const { file, body, mesh } = whole.shapes[shape]!;
      const own = filled.get(file)?.bodies.get(body.id);
      if (decision.bodies[n] !== null || !own || !mesh) return [];
      return [
        {
          n,
          box: boxOfBodies(whole, [n]),
          shape,
          mesh,
          filled: own,
          placement,
          back: invertRigid(placement),
        },
      ];
    });
  }

  /** Where a body can lie in something that was filled. */
  placesBeside(box: Box): FilledPlace[] {
    return this.places.filter(({ box: own }) =>
      [0, 1, 2].every((axis) => own[axis]! < box[axis + 3]! && own[axis + 3]! > box[axis]!),
    );
  }

  /** Whether a point of the whole lies in a body that was filled. */
  holds(point: Vector3): boolean {
    return this.places.some(({ box, filled: { geometry }, back }) => {
      if (!isInBox(box, point)) return false;
      const at = transformPoint(back, point);
      return isInBox(geometry.box, at) && this.trees.isInside(geometry, at);
    });
  }

  /** What filled the openings, in pieces where they stand, each with the key of its opening. */
  async plugs(): Promise<Plug[]> {
    const byShape = new Map<number, { mesh: SolidMesh; opening: string }[]>();
    for (const { shape, mesh, filled } of this.places) {
      if (byShape.has(shape)) continue;
      const pieces = await differencePieces(finestMesh(filled.geometry), finestMesh(mesh));
      byShape.set(
        shape,
        pieces.flatMap((piece) => {
          const opening = this.openingOf(piece, mesh, filled);
          return opening ? [{ mesh: piece, opening: openingKey(shape, opening.faces) }] : [];
        }),
      );
    }
    return this.places.flatMap(({ shape, placement }) =>
      byShape.get(shape)!.map((plug) => ({ ...plug, placement })),
    );
  }

  /** The opening whose walls most of a piece's triangles are nearest to. */
  private openingOf(piece: SolidMesh, mesh: GeometryOfBody, { openings }: FilledBody): Opening | undefined {
    const count = piece.triangles.length / 3;
    const votes = new Map<Opening, number>();
    for (let n = 0; n < count; n += Math.max(1, Math.floor(count / VOTES))) {
      const nearest = this.trees.nearestOpening(mesh, openings, centreOf(cornersOf(piece, n)));
      if (nearest) votes.set(nearest, (votes.get(nearest) ?? 0) + 1);
    }
    return [...votes].sort((one, other) => other[1] - one[1])[0]?.[0];
  }

  /** Keys of the openings at some places that a point of the whole lies in. */
  *openingsAt(point: Vector3, places: readonly FilledPlace[]): Iterable<string> {
    for (const { shape, mesh, filled, back } of places) {
      const at = transformPoint(back, point);
      if (!isInBox(filled.geometry.box, at)) continue;
      if (!this.trees.isInside(filled.geometry, at) || this.trees.isInside(mesh, at)) continue;
      const opening = this.trees.nearestOpening(mesh, filled.openings, at);
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
  private readonly walls = new Map<Opening, MeshBVH>();

  isInside(mesh: GeometryOfBody, point: Vector3): boolean {
    const hits = this.of(mesh).raycast(new Ray(new ThreeVector(...point), ASKEW), DoubleSide);
    return hits.length % 2 === 1;
  }

  /** The opening whose walls are nearest to a point in it: it cannot leave its own but through the mouth. */
  nearestOpening(mesh: GeometryOfBody, openings: readonly Opening[], point: Vector3): Opening | undefined {
    let [best, least]: [Opening | undefined, number] = [undefined, Infinity];
    for (const opening of openings) {
      const hit = this.wallsOf(mesh, opening).closestPointToPoint(
        new ThreeVector(...point),
        undefined,
        0,
        least,
      );
      if (hit && hit.distance < least) [best, least] = [opening, hit.distance];
    }
    return best;
  }

  private wallsOf(mesh: GeometryOfBody, opening: Opening): MeshBVH {
    let known = this.walls.get(opening);
    if (!known) {
      const { positions, triangles } = finestMesh(mesh);
      const walls = opening.faces.flatMap((face) => {
        const [from, count] = [mesh.faceGroups[2 * face]!, mesh.faceGroups[2 * face + 1]!];
        return [...triangles.subarray(from, from + count)];
      });
      known = treeOf({ positions, triangles: Uint32Array.from(walls) });
      this.walls.set(opening, known);
    }
    return known;
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
