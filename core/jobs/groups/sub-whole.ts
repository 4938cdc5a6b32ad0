import { boxOfBodies, type Whole } from '#core/geometry/whole/whole';

/** A whole of some components only; shapes keep their positions. */
export function subWhole(whole: Whole, keys: ReadonlySet<string>): Whole {
  const sub: Whole = { ...whole, occurrences: [], bodies: [], missing: [] };
  for (const occurrence of whole.occurrences) {
    if (!keys.has(occurrence.key)) continue;
    const n = sub.occurrences.length;
    const bodies = occurrence.bodies.map(
      (body) => sub.bodies.push({ ...whole.bodies[body]!, occurrence: n }) - 1,
    );
    sub.occurrences.push({ ...occurrence, bodies });
  }
  sub.box = boxOfBodies(sub, sub.bodies.keys());
  return sub;
}
