import { plural } from '#core/command/words';
import { baseName } from '#core/files/links/paths';
import { apply, applyTo, assemblyNamed, chosen, levelsOf } from '#core/jobs/arrange/apply';
import type { ArrangePreview } from '#core/jobs/arrange/choices';
import type { Levels } from '#core/jobs/arrange/levels';
import type { Planned } from '#core/planned';
import type { Planning } from '#core/planning';
import { multiply } from '#core/product/matrix';
import type { Arrangement } from '#core/product/restructure/arrange';
import type { Product } from '#core/product/structure';
import { placementOf } from '#core/product/turns';
import { Refusal } from '#core/refusal';
import type { PlaceAgainChoices, PlaceChoices, SetPlacementChoices } from './choices';
import { componentFor, link } from './component';
import { placementAfter, stepsAlong, turnsAround } from './placements';

/** @throws Refusal for a file that cannot stand in the assembly */
export async function planPlace(context: Planning, choices: PlaceChoices): Promise<Planned<ArrangePreview>> {
  const { project, draft } = context;
  const { file, part, into, like, position, turn } = choices;
  const levels = levelsOf(project, file);
  const parent = into === null ? topOf(levels, file) : assemblyNamed(levels, { file, into });
  let placement = placementOf(position, turn);
  if (like !== null) {
    const [one, ...more] = chosen(project, { file, occurrences: [like] }).held;
    if (more.length > 0)
      throw new Refusal(
        `${plural(more.length + 1, 'component')} are called ${like}: name one by its number.`,
      );
    if (one!.parent !== parent)
      throw new Refusal(`${one!.occurrence.name} is in ${one!.parent.name}, not in ${parent.name}.`);
    placement = multiply(one!.occurrence.placement, placement);
  }
  const component = componentFor(project, { file, part, parent });
  const { of, standIns, name } = component;
  const count = parent.occurrences.filter(({ child }) => child === of).length;
  const occurrence = count === 0 ? name : `${name} ${count + 1}`;
  const added = [{ parent: parent.definition, placement, component: of, name: occurrence }];
  const gone = await applyTo(context, file, { standIns, added });
  link(draft, file, component);
  const change = await draft.finish(`Placed ${baseName(part)} in ${parent.name}`);
  return { change, preview: { occurrences: [occurrence], gone } };
}

/** @throws Refusal where neither a row nor a circle is said, or nothing would be anywhere else */
export async function planPlaceAgain(
  context: Planning,
  choices: PlaceAgainChoices,
): Promise<Planned<ArrangePreview>> {
  const { file, count, step, around } = choices;
  const { held } = chosen(context.project, choices);
  if ((step === null) === (around === null))
    throw new Refusal('Say either the step of a row, or the axis of a circle.');
  const motions = step === null ? turnsAround(around!, count) : stepsAlong(step, count);
  const added: Arrangement['added'][number][] = [];
  for (const { parent, occurrence } of held)
    for (const motion of motions)
      added.push({
        like: occurrence.id,
        parent: parent.definition,
        placement: multiply(motion, occurrence.placement),
      });
  const what = held.length === 1 ? held[0]!.occurrence.name : `${held.length} components`;
  const words = `Placed ${what} ${motions.length === 1 ? 'once' : `${motions.length} times`} more in ${step === null ? 'a circle' : 'a row'}`;
  return apply(context, file, held, { added }, words);
}

/** @throws Refusal where several would be at one place */
export async function planSetPlacement(
  context: Planning,
  choices: SetPlacementChoices,
): Promise<Planned<ArrangePreview>> {
  const { file, position, turn, relative } = choices;
  const { held } = chosen(context.project, choices);
  if (position === null && turn === null) throw new Refusal('Say a position or a turn.');
  if (!relative && held.length > 1 && position !== null)
    throw new Refusal(
      `${held.length} components would be in one place: choose one, or shift them from where they are.`,
    );
  const placed = new Map(
    held.map(({ parent, occurrence }) => [
      occurrence.id,
      { parent: parent.definition, placement: placementAfter(occurrence.placement, choices) },
    ]),
  );
  const words = held.length === 1 ? held[0]!.occurrence.name : `${held.length} components`;
  return apply(
    context,
    file,
    held,
    { placed },
    `${relative ? 'Shifted' : 'Placed'} ${words} in ${baseName(file)}`,
  );
}

/** The assembly that a file is about. @throws Refusal where there is none, or several */
function topOf({ products, of }: Levels, file: string): Product {
  const tops = products.filter(
    ({ definition, occurrences }) => !of.has(definition) && occurrences.length > 0,
  );
  const [one, ...more] = tops;
  if (!one) throw new Refusal(`${file} is no assembly: it places nothing.`);
  if (more.length > 0)
    throw new Refusal(`${file} holds ${tops.length} assemblies side by side: say which is meant.`);
  return one;
}
