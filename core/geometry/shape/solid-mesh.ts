import { type Matrix4, transformPoint } from '#core/product/matrix';
import type { BodyMesh } from './body';
import type { GeometryOfBody } from './gltf';
import { cornersOf, normalOf, type Triangle } from './triangles';

/** A solid, or several, as triangles. mm. */
export interface SolidMesh {
  positions: Float32Array;
  triangles: Uint32Array;
}

/** A body's mesh as fine as it is. */
export function finestMesh({ positions, levels }: Pick<GeometryOfBody, 'positions' | 'levels'>): SolidMesh {
  return { positions, triangles: levels[0]!.triangles };
}

/** How many faces a body has; 0 for one without a mesh. */
export function faceCount(mesh: Pick<GeometryOfBody, 'faceGroups'> | undefined): number {
  return mesh ? mesh.faceGroups.length / 2 : 0;
}

/** How many triangles a body has as finely as it is; 0 for one without a mesh. */
export function triangleCount(mesh: GeometryOfBody | undefined): number {
  return mesh ? finestMesh(mesh).triangles.length / 3 : 0;
}

/** A mesh of facets as the stage draws it: one face, with the normals of its triangles. */
export function displayMesh({ positions, triangles }: SolidMesh): BodyMesh {
  const count = triangles.length;
  const places = new Float32Array(3 * count);
  const normals = new Float32Array(3 * count);
  for (let n = 0; n < count / 3; n++) {
    const triangle = cornersOf({ positions, triangles }, n);
    places.set(triangle.flat(), 9 * n);
    const normal = normalOf(triangle);
    for (let corner = 0; corner < 3; corner++) normals.set(normal, 9 * n + 3 * corner);
  }
  return {
    positions: places,
    normals,
    triangles: Uint32Array.from({ length: count }, (_, n) => n),
    faceGroups: Uint32Array.from([0, count]),
    edges: new Float32Array(0),
    chord: 0,
  };
}

/** Vertices at one place as one. */
export function weldedMesh({ positions, triangles }: SolidMesh): SolidMesh {
  const known = new Map<string, number>();
  const places: number[] = [];
  const index = Uint32Array.from(triangles, (n) => {
    const vertex = [positions[3 * n]!, positions[3 * n + 1]!, positions[3 * n + 2]!];
    const key = vertex.join(' ');
    let at = known.get(key);
    if (at === undefined) {
      at = places.length / 3;
      places.push(...vertex);
      known.set(key, at);
    }
    return at;
  });
  return { positions: Float32Array.from(places), triangles: index };
}

/** Several meshes as one. */
export function joinedMesh(meshes: readonly SolidMesh[]): SolidMesh {
  const positions = new Float32Array(meshes.reduce((sum, mesh) => sum + mesh.positions.length, 0));
  const triangles = new Uint32Array(meshes.reduce((sum, mesh) => sum + mesh.triangles.length, 0));
  let [at, corner] = [0, 0];
  for (const mesh of meshes) {
    const first = at / 3;
    positions.set(mesh.positions, at);
    for (const index of mesh.triangles) triangles[corner++] = first + index;
    at += mesh.positions.length;
  }
  return { positions, triangles };
}

/** A mesh where it stands. */
export function placedMesh({ positions, triangles }: SolidMesh, placement: Matrix4): SolidMesh {
  const placed = new Float32Array(positions.length);
  for (let at = 0; at < positions.length; at += 3)
    placed.set(transformPoint(placement, [positions[at]!, positions[at + 1]!, positions[at + 2]!]), at);
  return { positions: placed, triangles };
}

/** The same mesh with only the vertices that its triangles use. */
export function withUsedVertices({ positions, triangles }: SolidMesh): SolidMesh {
  const places = new Int32Array(positions.length / 3).fill(-1);
  const used: number[] = [];
  const own = triangles.map((vertex) => {
    if (places[vertex] === -1) places[vertex] = used.push(vertex) - 1;
    return places[vertex]!;
  });
  const kept = new Float32Array(3 * used.length);
  for (const [n, vertex] of used.entries()) kept.set(positions.subarray(3 * vertex, 3 * vertex + 3), 3 * n);
  return { positions: kept, triangles: own };
}

/** The triangles of each face, by its position. */
export function trianglesByFace(mesh: GeometryOfBody): Triangle[][] {
  const finest = finestMesh(mesh);
  return Array.from({ length: mesh.faceGroups.length / 2 }, (_, face) => {
    const [from, count] = [mesh.faceGroups[2 * face]! / 3, mesh.faceGroups[2 * face + 1]! / 3];
    return Array.from({ length: count }, (_, n) => cornersOf(finest, from + n));
  });
}
