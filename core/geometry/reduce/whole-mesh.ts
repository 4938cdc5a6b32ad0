import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { finestMesh, joinedMesh, placedMesh, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import type { Whole } from '#core/geometry/whole/whole';

/**
 * Bodies of a whole as one mesh, where they stand. mm.
 * @param geometryOf the mesh of a body by its position; undefined for one that is left out
 */
export function meshOfWhole(
  whole: Whole,
  geometryOf: (body: number) => GeometryOfBody | undefined = (n) =>
    whole.shapes[whole.bodies[n]!.shape]!.mesh,
): SolidMesh {
  return joinedMesh(
    whole.bodies.flatMap(({ placement }, n) => {
      const mesh = geometryOf(n);
      return mesh ? [placedMesh(finestMesh(mesh), placement)] : [];
    }),
  );
}
