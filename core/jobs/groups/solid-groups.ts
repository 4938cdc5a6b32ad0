import { createHash } from 'node:crypto';
import { NO_TIME } from '#core/files/part21/write';
import { FORGETTABLE } from '#core/geometry/reduce/choices';
import { bodiesLeft } from '#core/geometry/reduce/decide';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import { writeReduced } from '#core/geometry/reduce/write-reduced';
import { boxOfBodies } from '#core/geometry/whole/whole';
import { namesWithin } from '#core/jobs/seal/prove';
import { seal } from '#core/jobs/seal/sealed';
import type { SealedSolid } from '#core/jobs/seal/sealed-solid';
import type { PlanContext } from '#core/planning';
import { type Box, boxOfPositions, isBoxIn } from '#core/product/box';
import { Refusal } from '#core/refusal';
import type { RigidGroup } from './choices';

/** How far facets may lie off, mm, where a group cannot be made exactly. */
export const WITHIN = 0.1;

/**
 * Makes one solid of each group, as a sealed solid is made: what is apart by less than the gap is pinned, hollows are filled. A piece that
 * touches nothing of its group is left out where it lies within it, as a ring does that another group holds; else it stays. Warnings say so.
 * @throws Refusal for a group in which nothing is closed
 */
export async function solidGroups(
  context: PlanContext,
  groups: readonly RigidGroup[],
  subs: readonly ReducedWhole[],
): Promise<SealedSolid[][]> {
  const made: SealedSolid[][] = [];
  for (const [n, { name }] of groups.entries()) {
    await context.progress(`Uniting ${name}`, n, groups.length);
    const sub = subs[n]!;
    const { bytes } = writeReduced({
      id: 'group',
      name: 'group',
      fileName: '',
      timeStamp: NO_TIME,
      form: 'assembly',
      forget: new Set(FORGETTABLE),
      parts: sub.parts,
      ties: [],
    });
    const guests = guestsOf(sub, subs);
    const digest = createHash('sha256').update(bytes).update(JSON.stringify(guests)).digest('hex');
    const sealed = await context.remember(`sealed group ${digest} ${sub.gap}`, () =>
      seal(context, bytes, sub, { way: 'auto', within: WITHIN, keepFaces: [], standOff: null }, guests),
    );
    const { solids, refused, odd } = sealed;
    if (solids.length === 0) throw new Refusal(`Nothing in the group ${name} is a closed solid.`);
    if (refused !== null)
      context.draft.warn(`${name}: ${refused} It is made of facets, within ${WITHIN} mm.`);
    if (odd > 0)
      context.draft.warn(
        `${name}: ${odd === 1 ? '1 body is' : `${odd} bodies are`} no closed solid and could not be taken in.`,
      );
    const [main, ...others] = solids as [SealedSolid, ...SealedSolid[]];
    const box = boxOfPositions(main.mesh.positions);
    const isInside = ({ mesh }: SealedSolid) => isBoxIn(boxOfPositions(mesh.positions), box);
    const left = others.filter(isInside).flatMap(({ mesh }) => namesWithin(sub, mesh));
    if (left.length > 0)
      context.draft.warn(
        `${name}: ${[...new Set(left)].join(', ')} lies within it, touches nothing of it, and is left out.`,
      );
    const beside = others.filter((piece) => !isInside(piece));
    if (beside.length > 0)
      context.draft.warn(
        `${name} is ${1 + beside.length} solids: they come nowhere nearer to each other than the gap of ${sub.gap} mm.`,
      );
    made.push([main, ...beside]);
  }
  return made;
}

/** Boxes of the bodies of other groups that lie within the box of one: they may stand in hollows of it. */
function guestsOf(group: ReducedWhole, groups: readonly ReducedWhole[]): Box[] {
  const own = boxOfBodies(group.whole, bodiesLeft(group.decision));
  return groups
    .filter((other) => other !== group)
    .flatMap(({ whole, decision }) => bodiesLeft(decision).map((n) => boxOfBodies(whole, [n])))
    .filter((box) => isBoxIn(box, own));
}
