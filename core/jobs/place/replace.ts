import { plural } from '#core/command/words';
import { baseName } from '#core/files/links/paths';
import { applyTo, chosen } from '#core/jobs/arrange/apply';
import { type Held, Levels } from '#core/jobs/arrange/levels';
import type { Planned } from '#core/planned';
import type { PlanContext } from '#core/planning';
import { type Matrix4, multiply } from '#core/product/matrix';
import { positionOf } from '#core/product/turns';
import { length } from '#core/product/vector';
import type { Project } from '#core/project/scan/project';
import { keyOf, type ProductPlace, placingsOf, topProducts } from '#core/project/scan/tree';
import { Refusal } from '#core/refusal';
import type { ReplaceChoices, ReplacePreview } from './choices';
import { componentFor, link } from './component';
import { type MeasuredPart, measuredPart, motionBetween } from './part-figures';

/** @throws Refusal for a file that cannot take the place of the component */
export async function planReplace(
  context: PlanContext,
  choices: ReplaceChoices,
): Promise<Planned<ReplacePreview>> {
  const { project, draft, progress } = context;
  const { file, part, everywhere, fit } = choices;
  const { held } = chosen(project, choices);
  const components = new Map(placesOf(project, file, held).map((place) => [keyOf(place), place]));
  const [component, ...others] = components.values();
  if (others.length > 0 && (everywhere || fit))
    throw new Refusal(
      `${component!.product.name} and ${others[0]!.product.name} are different components: choose those of one.`,
    );
  if (component!.path === part && !component!.broken && others.length === 0)
    throw new Refusal(`${component!.product.name} is ${part} already.`);

  // 1. How the new one differs, and how it would fit.
  const [old, anew] = await figuresOf(context, others.length === 0 ? component! : null, part);
  const motion = old && anew ? motionBetween(anew, old) : null;
  if (fit && !motion)
    throw new Refusal(
      `${baseName(part)} has another shape than ${component!.product.name}, or is not measured yet: it can only stand with its origin where the other one's was.`,
    );

  // 2. In each assembly.
  const chosenIn = everywhere ? placedEverywhere(project, component!, file, held) : new Map([[file, held]]);
  const gone: string[] = [];
  for (const [n, [holder, placed]] of [...chosenIn].entries()) {
    await progress(`Replacing in ${baseName(holder)}`, n, chosenIn.size);
    const standIn = componentFor(project, { file: holder, part, parent: placed[0]!.parent });
    const by = standIn.of;
    const replaced = new Map(
      placed.map(({ occurrence: { id, placement } }) => [
        id,
        { by, placement: fit ? multiply(placement, motion!) : placement },
      ]),
    );
    gone.push(...(await applyTo(context, holder, { standIns: standIn.standIns, replaced })));
    link(draft, holder, standIn);
  }
  const count = [...chosenIn.values()].reduce((sum, placed) => sum + placed.length, 0);
  const words =
    chosenIn.size === 1
      ? `in ${count === 1 ? '' : `${count} places of `}${baseName([...chosenIn.keys()][0]!)}`
      : `in ${chosenIn.size} assemblies`;
  const was = others.length === 0 ? component!.product.name : plural(held.length, 'component');
  const change = await draft.finish(`Replaced ${was} by ${baseName(part)} ${words}`);
  return {
    change,
    preview: {
      occurrences: [...chosenIn.values()].flat().map(({ occurrence }) => occurrence.name),
      gone,
      was: old?.figures ?? null,
      now: anew?.figures ?? null,
      fits: motion && { distance: length(positionOf(motion)), angle: angleOf(motion), motion },
      assemblies: [...chosenIn.keys()],
    },
  };
}

/** What occurrences place: in its own file where that is another one. */
export function placesOf(project: Project, path: string, held: readonly Held[]): ProductPlace[] {
  const targets = new Map<number, ProductPlace>();
  for (const product of new Set(held.map(({ parent }) => parent)))
    for (const { occurrence, target } of placingsOf(project, { path, product }))
      targets.set(occurrence, target);
  return held.map(({ occurrence }) => targets.get(occurrence.id)!);
}

async function figuresOf(
  context: PlanContext,
  component: ProductPlace | null,
  part: string,
): Promise<[MeasuredPart | null, MeasuredPart | null]> {
  const [top] = topProducts(context.project, part);
  return [
    component && !component.broken ? await measuredPart(context, component) : null,
    top ? await measuredPart(context, top) : null,
  ];
}

/** Every occurrence of a component, by the assembly files that place it. */
function placedEverywhere(
  project: Project,
  component: ProductPlace,
  file: string,
  held: readonly Held[],
): Map<string, readonly Held[]> {
  const wanted = keyOf(component);
  const holders = new Set([file]);
  if (component.path !== file)
    for (const { kind, holder } of project.usedBy.get(component.path) ?? [])
      if (kind === 'component') holders.add(holder);
  const found = new Map<string, readonly Held[]>();
  for (const holder of holders) {
    const { scan } = project.files.get(holder)!;
    if (scan.error !== null || scan.damage !== null)
      throw new Refusal(`${holder} places it, too, and cannot be changed: ${scan.error ?? scan.damage}`);
    const all = [...new Levels(scan.products).of.values()].flat();
    const places = placesOf(project, holder, all);
    const placed = all.filter((_, n) => keyOf(places[n]!) === wanted);
    if (placed.length > 0) found.set(holder, placed);
  }
  if (found.size === 0) found.set(file, held);
  return found;
}

/** How far a motion turns, in degrees. */
function angleOf(motion: Matrix4): number {
  const cosine = (motion[0]! + motion[5]! + motion[10]! - 1) / 2;
  return (Math.acos(Math.min(1, Math.max(-1, cosine))) * 180) / Math.PI;
}
