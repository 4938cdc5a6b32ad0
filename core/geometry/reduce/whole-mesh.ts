import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { finestMesh, joinedMesh, type SolidMesh } from '#core/geometry/shape/solid-mesh';
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
  return joinedMesh(
    whole.bodies.flatMap(({ placement }, n) => {
      const mesh = geometryOf(n);
      if (!mesh) return [];
      const { positions, triangles } = finestMesh(mesh);
      const placed = new Float32Array(positions.length);
      for (let at = 0; at < positions.length; at += 3)
        placed.set(transformPoint(placement, [positions[at]!, positions[at + 1]!, positions[at + 2]!]), at);
      return [{ positions: placed, triangles }];
    }),
  );
}
