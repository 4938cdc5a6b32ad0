import { FilledSpace } from '#core/geometry/reduce/filled-space';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { finestMesh } from '#core/geometry/shape/solid-mesh';
import { centreOf, cornersOf } from '#core/geometry/shape/triangles';
import { boxOfBodies } from '#core/geometry/whole/whole';
import { transformPoint, type Vector3 } from '#core/product/matrix';

/** Points of a body that are tried against what was filled in another group. */
const POINTS = 600;

/**
 * Openings that were filled although something of another group stands in them: a shaft in its bore. They have to stay open.
 * @returns keys of openings, by `openingKey`
 */
export function metOpenings(own: ReducedWhole, others: readonly ReducedWhole[]): Set<string> {
  const met = new Set<string>();
  const space = new FilledSpace(own);
  for (const { whole, decision } of others)
    for (const [k, { shape, placement }] of whole.bodies.entries()) {
      const guest = whole.shapes[shape]!.mesh;
      if (decision.bodies[k] !== null || !guest) continue;
      const places = space.placesBeside(boxOfBodies(whole, [k]));
      if (places.length === 0) continue;
      for (const point of somePoints(guest))
        for (const key of space.openingsAt(transformPoint(placement, point), places)) met.add(key);
    }
  return met;
}

function* somePoints(mesh: GeometryOfBody): Iterable<Vector3> {
  const finest = finestMesh(mesh);
  const count = finest.triangles.length / 3;
  const step = Math.max(1, Math.ceil(count / POINTS));
  for (let n = 0; n < count; n += step) yield centreOf(cornersOf(finest, n));
}
