import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import type { Whole } from '#core/geometry/whole/whole';
import { transformPoint } from '#core/product/matrix';

/**
 * Bodies of a whole as one mesh, where they stand. mm.
 * @param geometryOf the mesh of a body by its position; undefined for one that is left out
 */
export function meshOfWhole(
  whole: Whole,
  geometryOf: (body: number) => GeometryOfBody | undefined = (n) =>
    whole.shapes[whole.bodies[n]!.shape]!.mesh,
): SolidMesh {
  let [vertices, corners] = [0, 0];
  const meshes = whole.bodies.map((_, n) => geometryOf(n));
  for (const mesh of meshes) {
    if (!mesh) continue;
    vertices += mesh.positions.length;
    corners += mesh.levels[0]!.triangles.length;
  }
  const positions = new Float32Array(vertices);
  const triangles = new Uint32Array(corners);
  let [at, corner] = [0, 0];
  for (const [n, mesh] of meshes.entries()) {
    if (!mesh) continue;
    const first = at / 3;
    const { placement } = whole.bodies[n]!;
    for (let from = 0; from < mesh.positions.length; from += 3, at += 3)
      positions.set(
        transformPoint(placement, [
          mesh.positions[from]!,
          mesh.positions[from + 1]!,
          mesh.positions[from + 2]!,
        ]),
        at,
      );
    for (const index of mesh.levels[0]!.triangles) triangles[corner++] = first + index;
  }
  return { positions, triangles };
}
