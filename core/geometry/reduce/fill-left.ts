import pLimit from 'p-limit';
import { baseName } from '#core/files/links/paths';
import type { Opening } from '#core/geometry/fill/openings';
import type { ReachOfWhole } from '#core/geometry/reach/classes';
import type { Whole } from '#core/geometry/whole/whole';
import { groupBy } from '#core/multimap';
import type { PlanContext } from '#core/planning';
import type { ReduceChoices } from './choices';
import {
  chosenOpenings,
  type FilledPart,
  fillPart,
  openingsOf,
  type PartWithOpenings,
  reachedIn,
} from './filled-parts';
import type { ReducedWhole } from './reduced-whole';

/** Whether an opening of a shape may be filled. */
export type MayFill = (shape: number, opening: Opening) => boolean;

/** So often smaller openings are looked for in those that cannot be filled. */
const MOST_ROUNDS = 3;
/** So many files are filled at once, where there are kernels for them. */
const FILES_AT_ONCE = 3;

/**
 * Fills openings of the bodies that stay, file by file. Files of which nothing is filled are there with their openings.
 * @param staying positions of bodies in the whole
 */
export async function fillLeft(
  context: PlanContext,
  { whole, reach }: { whole: Whole; reach: ReachOfWhole },
  staying: readonly number[],
  choices: ReduceChoices,
  mayFill: MayFill,
): Promise<Pick<ReducedWhole, 'filled' | 'openings' | 'odd' | 'holeFaces'>> {
  const placings = groupBy(staying, (n) => whole.bodies[n]!.shape);
  const files = groupBy(placings.keys(), (shape) => whole.shapes[shape]!.file);
  const isReached = reachedIn(whole, reach);
  const isOn = choices.fill.length > 0 && !choices.off.includes('fill');
  let done = 0;
  const found = await pLimit(FILES_AT_ONCE).map(files, async ([file, shapes]) => {
    await context.progress(`Filling ${baseName(file)}`, done++, files.size);
    context.signal.throwIfAborted();
    const part = await openingsOf(context, file);
    const keptFaces = new Set(choices.keepFaces.flatMap((kept) => (kept.file === file ? [kept.face] : [])));
    const asked = choices.fill.length > 0 ? shapes : [];
    const refused = new Set<Opening>();
    const chosenOf = (shape: number): Opening[] => {
      const own = part.bodies.get(whole.shapes[shape]!.body.id);
      if (!own) return [];
      return chosenOpenings(
        own,
        choices,
        keptFaces,
        (face) => isReached(shape, face),
        (opening) => !refused.has(opening) && mayFill(shape, opening),
      );
    };
    const wantedNow = () =>
      new Map(
        asked.flatMap((shape) => {
          const chosen = chosenOf(shape);
          return chosen.length > 0 ? [[whole.shapes[shape]!.body.id, chosen] as const] : [];
        }),
      );
    let wanted = wantedNow();
    const sizeOf = (shape: number) =>
      (wanted.get(whole.shapes[shape]!.body.id) ?? []).reduce((sum, { faces }) => sum + faces.length, 0);
    const faces = asked.reduce((sum, shape) => sum + placings.get(shape)!.length * sizeOf(shape), 0);
    const odd = asked.flatMap((shape) => {
      const { id: body } = whole.shapes[shape]!.body;
      const why = part.odd.get(body);
      return why === undefined ? [] : [{ file, body, why }];
    });
    let filled = isOn && wanted.size > 0 ? await fillPart(context, part, wanted) : undefined;
    // Where a large opening cannot be filled, smaller ones in it may be.
    for (let round = 0; filled && filled.refused.size > 0 && round < MOST_ROUNDS; round++) {
      for (const openings of filled.refused.values()) for (const opening of openings) refused.add(opening);
      wanted = wantedNow();
      filled = await fillPart(context, part, wanted);
    }
    for (const openings of filled?.refused.values() ?? [])
      for (const opening of openings) refused.add(opening);
    warnOfRefused(context, part, refused, filled);
    return { file, part, filled, odd, faces };
  });
  return {
    filled: new Map(found.flatMap(({ file, filled }) => (filled ? [[file, filled] as const] : []))),
    openings: new Map(found.map(({ file, part }) => [file, part])),
    odd: found.flatMap(({ odd }) => odd),
    holeFaces: found.reduce((sum, { faces }) => sum + faces, 0),
  };
}

/** Names the bodies of which something that was to be filled stays open. */
function warnOfRefused(
  { draft }: PlanContext,
  { source: { path }, bodies }: PartWithOpenings,
  refused: ReadonlySet<Opening>,
  filled: FilledPart | undefined,
): void {
  for (const [body, { openings }] of bodies) {
    const count = openings.filter((opening) => refused.has(opening)).length;
    if (count === 0) continue;
    const which = count === 1 ? '1 opening' : `${count} openings`;
    const stay = filled?.bodies.has(body)
      ? `${count === 1 ? 'It stays' : 'They stay'} open; all else is filled.`
      : 'It stays as it is.';
    draft.warn(`${path}: body #${body} would not stay whole with ${which} of it filled. ${stay}`);
  }
}
