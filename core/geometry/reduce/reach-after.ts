import type { ReachOfWhole } from '#core/geometry/reach/classes';
import { reachedFaces } from '#core/geometry/reach/reached';
import { seenBodies } from '#core/geometry/reach/seen';
import type { Whole } from '#core/geometry/whole/whole';
import type { Progress } from '#core/planning';
import { bodiesLeft } from './decide';
import { filledBodies, lostFaces, meshLeft } from './left';
import type { ReducedWhole } from './reduced-whole';

/**
 * The reach of a whole once openings of it are closed and bodies left out. Nothing is reached any more that lay behind; what was out of reach
 * stays so, and what is left out keeps the class that it had.
 */
export async function reachAfter(reduced: ReducedWhole, progress?: Progress): Promise<ReachOfWhole> {
  const { whole, reachLeft: before, gap, decision } = reduced;
  const left = bodiesLeft(decision);
  const meshOf = meshLeft(reduced);
  const filledOf = filledBodies(reduced);
  // Each body with a shape of its own, as it is now.
  const wholeLeft: Whole = {
    ...whole,
    shapes: left.map((n) => ({ ...whole.shapes[whole.bodies[n]!.shape]!, mesh: meshOf(n) })),
    bodies: left.map((n, shape) => ({ ...whole.bodies[n]!, shape })),
  };
  const now = await reachedFaces(wholeLeft, gap, progress);
  const isReached = left.map((n, at) => !meshOf(n) || now.faces[at]!.includes(1));
  const unsure = [...left.keys()].filter(
    (at) => !isReached[at] && before.bodies[left[at]!]!.class !== 'neither',
  );
  const seen = unsure.length === 0 ? [] : await seenBodies(wholeLeft, progress, unsure);
  const after: ReachOfWhole = {
    reached: { gap, faces: before.reached.faces.slice() },
    bodies: before.bodies.slice(),
  };
  for (const [at, n] of left.entries()) {
    const isLost = lostFaces(filledOf(n));
    const own = now.faces[at]!;
    const faces = before.reached.faces[n]!.slice();
    const stayed = [...faces.keys()].filter((face) => !isLost(face));
    // The faces of what was made anew are others: which of them are reached nobody asks.
    if (!reduced.remade.has(n) && stayed.length === own.length) {
      for (const face of faces.keys()) if (isLost(face)) faces[face] = 0;
      for (const [k, face] of stayed.entries()) faces[face]! &= own[k]!;
    }
    after.reached.faces[n] = faces;
    const was = before.bodies[n]!;
    if (unsure.includes(at)) {
      const { share, from } = seen[at]!;
      const isSeen = share > 0;
      if (was.class === 'reached' || !isSeen)
        after.bodies[n] = { class: isSeen ? 'seen' : 'neither', faces: 0, share, from };
    } else if (was.class === 'reached')
      after.bodies[n] = { ...was, faces: faces.reduce((sum, one) => sum + one, 0) };
  }
  return after;
}
