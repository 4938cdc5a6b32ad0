import { createHash } from 'node:crypto';
import { NO_TIME } from '#core/files/part21/write';
import { FORGETTABLE } from '#core/geometry/reduce/choices';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import { writeReduced } from '#core/geometry/reduce/write-reduced';
import { type SealedSolid, seal } from '#core/jobs/seal/sealed';
import type { PlanContext } from '#core/planning';
import { Refusal } from '#core/refusal';
import type { RigidGroup } from './choices';

/** How far facets may lie off, mm, where a group cannot be made exactly. */
export const WITHIN = 0.1;

/**
 * Makes one solid of each group, as a sealed solid is made: what hangs together by less than the gap is pinned, hollows are filled. What
 * hangs together nowhere stays beside it, and a warning says so.
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
    const digest = createHash('sha256').update(bytes).digest('hex');
    const sealed = await context.remember(`sealed group ${digest} ${sub.gap}`, () =>
      seal(context, bytes, sub, { way: 'auto', within: WITHIN, keepFaces: [] }),
    );
    const { solids, refused, odd } = sealed;
    if (solids.length === 0) throw new Refusal(`Nothing in the group ${name} is a closed solid.`);
    if (refused !== null)
      context.draft.warn(`${name}: ${refused} It is made of facets, within ${WITHIN} mm.`);
    if (odd > 0)
      context.draft.warn(
        `${name}: ${odd === 1 ? '1 body is' : `${odd} bodies are`} no closed solid and could not be taken in.`,
      );
    if (solids.length > 1)
      context.draft.warn(
        `${name} is ${solids.length} solids: they come nowhere nearer to each other than the gap of ${sub.gap} mm.`,
      );
    made.push(solids);
  }
  return made;
}
