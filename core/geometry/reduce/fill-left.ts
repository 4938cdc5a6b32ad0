import pLimit from 'p-limit';
import { baseName } from '#core/files/links/paths';
import type { Opening } from '#core/geometry/fill/openings';
import type { ReachOfWhole } from '#core/geometry/reach/classes';
import type { Whole } from '#core/geometry/whole/whole';
import { groupBy } from '#core/multimap';
import type { PlanContext } from '#core/planning';
import type { ReduceChoices } from './choices';
import { chosenOpenings, fillPart, openingsOf, reachedIn } from './filled-parts';
import type { ReducedWhole } from './reduced-whole';

/** Whether an opening of a shape may be filled. */
export type MayFill = (shape: number, opening: Opening) => boolean;

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
    const wanted = new Map<number, Opening[]>();
    let faces = 0;
    const asked = choices.fill.length > 0 ? shapes : [];
    for (const shape of asked) {
      const own = part.bodies.get(whole.shapes[shape]!.body.id);
      if (!own) continue;
      const chosen = chosenOpenings(
        own,
        choices,
        keptFaces,
        (face) => isReached(shape, face),
        (opening) => mayFill(shape, opening),
      );
      faces += placings.get(shape)!.length * chosen.reduce((sum, opening) => sum + opening.faces.length, 0);
      if (chosen.length > 0) wanted.set(whole.shapes[shape]!.body.id, chosen);
    }
    const odd = asked.flatMap((shape) => {
      const { id: body } = whole.shapes[shape]!.body;
      const why = part.odd.get(body);
      return why === undefined ? [] : [{ file, body, why }];
    });
    const filled = isOn && wanted.size > 0 ? await fillPart(context, part, wanted) : undefined;
    return { file, part, filled, odd, faces };
  });
  return {
    filled: new Map(found.flatMap(({ file, filled }) => (filled ? [[file, filled] as const] : []))),
    openings: new Map(found.map(({ file, part }) => [file, part])),
    odd: found.flatMap(({ odd }) => odd),
    holeFaces: found.reduce((sum, { faces }) => sum + faces, 0),
  };
}
