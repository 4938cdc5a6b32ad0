import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { cornersOf, normalOf } from '#core/geometry/shape/triangles';
import type { Vector3 } from '#core/product/matrix';
import { add, cross, dot, length, scale } from '#core/product/vector';

/** Normals that are closer to each other than this are those of one plane. */
const SAME_PLANE = 0.999;
/** Where faces meet at a sharp edge, its vertices move no further than so many times the way of the faces. */
const MOST = 3;

/**
 * A closed mesh with every face moved outwards, so that bodies whose faces only touch overlap: after rounding there would be cracks between
 * them, or edges that touch.
 * @param mesh in which triangles that meet share their vertices
 * @param by mm
 */
export function grownMesh(mesh: SolidMesh, by: number): SolidMesh {
  const { positions, triangles } = mesh;
  const planes = Array.from({ length: positions.length / 3 }, (): Vector3[] => []);
  for (let n = 0; n < triangles.length / 3; n++) {
    const normal = normalOf(cornersOf(mesh, n));
    if (dot(normal, normal) === 0) continue;
    for (let k = 0; k < 3; k++) {
      const known = planes[triangles[3 * n + k]!]!;
      if (!known.some((other) => dot(other, normal) > SAME_PLANE)) known.push(normal);
    }
  }
  const moved = Float32Array.from(positions);
  for (const [vertex, normals] of planes.entries()) {
    const way = outOf(normals, by);
    for (let axis = 0; axis < 3; axis++) moved[3 * vertex + axis]! += way[axis as 0 | 1 | 2];
  }
  return { positions: moved, triangles };
}

/** The way that leads so far out of every plane, as well as there is one (least squares). */
function outOf(normals: readonly Vector3[], by: number): Vector3 {
  if (normals.length === 0) return [0, 0, 0];
  // The shortest of all ways that do: a little of each axis keeps the equations solvable where there are fewer than three planes.
  const rows: [Vector3, Vector3, Vector3] = [
    [1e-9, 0, 0],
    [0, 1e-9, 0],
    [0, 0, 1e-9],
  ];
  let right: Vector3 = [0, 0, 0];
  for (const normal of normals) {
    for (const axis of [0, 1, 2] as const) rows[axis] = add(rows[axis], scale(normal, normal[axis]));
    right = add(right, scale(normal, by));
  }
  const [x, y, z] = rows;
  const size = dot(x, cross(y, z));
  const solved = scale(
    add(add(scale(cross(y, z), right[0]), scale(cross(z, x), right[1])), scale(cross(x, y), right[2])),
    1 / size,
  );
  const far = length(solved) / (MOST * by);
  return far > 1 ? scale(solved, 1 / far) : solved;
}
