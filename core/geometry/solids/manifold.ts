import type { Manifold, ManifoldToplevel } from 'manifold-3d';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import type { Box } from '#core/product/box';
import type { Matrix4 } from '#core/product/matrix';

let started: Promise<ManifoldToplevel> | undefined;

/** The library that computes with closed meshes, started once. */
export function manifoldLibrary(): Promise<ManifoldToplevel> {
  started ??= import('manifold-3d').then(async ({ default: start }) => {
    const library = await start();
    library.setup();
    return library;
  });
  return started;
}

/** A closed mesh as a solid of the library; null for one that is not closed. Whoever takes it has to give it back. */
export function solidOf(
  { Manifold: Solid, Mesh }: ManifoldToplevel,
  { positions, triangles }: SolidMesh,
): Manifold | null {
  try {
    const mesh = new Mesh({ numProp: 3, vertProperties: positions, triVerts: triangles });
    // The faces of a body have vertices of their own; where they meet they are one.
    mesh.merge();
    const solid = new Solid(mesh);
    return solid.status() === 'NoError' && solid.volume() > 0 ? solid : null;
  } catch {
    return null;
  }
}

/** A solid of the library as triangles. */
export function meshOf(solid: Manifold): SolidMesh {
  const { vertProperties, numProp, triVerts } = solid.getMesh();
  const positions = new Float32Array((vertProperties.length / numProp) * 3);
  for (let n = 0; n < positions.length / 3; n++)
    for (let axis = 0; axis < 3; axis++) positions[3 * n + axis] = vertProperties[n * numProp + axis]!;
  return { positions, triangles: triVerts.slice() };
}

/** A row-major matrix as the library takes it: column by column. */
export function columnsOf(matrix: Matrix4): Parameters<Manifold['transform']>[0] {
  const columns = [0, 1, 2, 3].flatMap((column) => [0, 1, 2, 3].map((row) => matrix[4 * row + column]!));
  return columns as Parameters<Manifold['transform']>[0];
}

export function boxOfSolid(solid: Manifold): Box {
  const { min, max } = solid.boundingBox();
  return [...min, ...max] as Box;
}
