import { plural } from '#core/command/words';
import { baseName, folderOf, joinPath } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import type { Planned } from '#core/planned';
import type { Planning } from '#core/planning';
import { freeDesignation } from '#core/product/called';
import { IDENTITY, invertRigid, type Matrix4, multiply } from '#core/product/matrix';
import type { Arrangement, Placing } from '#core/product/restructure/arrange';
import { type Product, readStructure } from '#core/product/structure';
import { newFileName } from '#core/project/formats/endings';
import { fittingStem } from '#core/project/formats/file-stem';
import { Refusal } from '#core/refusal';
import { apply, applyTo, assemblyNamed, chosen } from './apply';
import type { ArrangePreview, DissolveChoices, GroupChoices, MoveChoices, TakeAwayChoices } from './choices';
import { type Held, type Levels, MOST_PLACINGS } from './levels';
import { putOutOntoDraft } from './out-onto-draft';

/** @throws Refusal where something would contain itself, or lies in another file */
export async function planMove(context: Planning, choices: MoveChoices): Promise<Planned<ArrangePreview>> {
  const { levels, held } = chosen(context.project, choices);
  const into = assemblyNamed(levels, choices);
  const placed = new Map<number, Placing>();
  const added: Arrangement['added'][number][] = [];
  const showing = levels.places(into.definition, null).length;
  for (const { parent, occurrence } of held) {
    const { child, id, name, placement } = occurrence;
    if (parent === into) throw new Refusal(`${name} is in ${into.name} already.`);
    if (levels.below(child).has(into.definition))
      throw new Refusal(`${into.name} is part of ${name}: it cannot contain it, too.`);
    const [first, ...more] = placesIn(levels, parent, into, placement);
    placed.set(id, { parent: into.definition, placement: first! });
    for (const one of more) added.push({ like: id, parent: into.definition, placement: one });
    const [before, after] = [levels.places(parent.definition, null).length, (1 + more.length) * showing];
    if (after > before)
      context.draft.warn(
        `${into.name} is placed ${showing} times: what moves into it shows at each of its places.`,
      );
    else if (after < before)
      context.draft.warn(
        `${parent.name} is placed outside of ${into.name}, too: ${name} is missing there from now on.`,
      );
  }
  if (added.length > 0)
    context.draft.warn(
      `What they move out of is placed several times: ${plural(added.length, 'occurrence')} more, so that nothing is missing.`,
    );
  const words = held.length === 1 ? held[0]!.occurrence.name : `${held.length} components`;
  return apply(context, choices.file, held, { placed, added }, `Moved ${words} to ${into.name}`);
}

/** The places of an occurrence in another assembly, as seen from there. */
function placesIn(levels: Levels, parent: Product, into: Product, placement: Matrix4): Matrix4[] {
  // 1. Further up: as often as the assembly is placed there.
  const below = levels.below(into.definition).has(parent.definition);
  if (below) {
    const places = bounded(levels.places(parent.definition, into.definition), parent);
    return places.map((place) => multiply(place, placement));
  }
  // 2. Further down: at one of its places.
  if (levels.below(parent.definition).has(into.definition)) {
    const [place] = levels.places(into.definition, parent.definition);
    return [multiply(invertRigid(place ?? IDENTITY), placement)];
  }
  // 3. Beside it.
  const [there] = levels.places(into.definition, null);
  return bounded(levels.places(parent.definition, null), parent).map((place) =>
    multiply(invertRigid(there ?? IDENTITY), multiply(place, placement)),
  );
}

function bounded(places: Matrix4[], { name }: Product): Matrix4[] {
  if (places.length > MOST_PLACINGS)
    throw new Refusal(
      `${name} is placed more than ${MOST_PLACINGS} times: that many occurrences are not made.`,
    );
  return places;
}

/** @throws Refusal where they lie in different assemblies */
export async function planGroup(context: Planning, choices: GroupChoices): Promise<Planned<ArrangePreview>> {
  const { levels, held } = chosen(context.project, choices);
  const [{ parent }] = held as [Held];
  const other = held.find((one) => one.parent !== parent);
  if (other)
    throw new Refusal(
      `${held[0]!.occurrence.name} is in ${parent.name}, ${other.occurrence.name} in ${other.parent.name}: move them to one assembly first.`,
    );
  const name = choices.name.trim();
  const id = freeDesignation(name, new Set(levels.products.map((product) => product.id)));
  const placed = new Map(
    held.map(({ occurrence }) => [occurrence.id, { parent: 'group', placement: occurrence.placement }]),
  );
  const groups = [{ key: 'group', id, name, parent: parent.definition, placement: IDENTITY }];
  const words = `Grouped ${plural(held.length, 'component')} of ${parent.name} as ${name}`;
  if (!choices.ownFile) return apply(context, choices.file, held, { placed, groups }, words);
  const { draft } = context;
  const gone = await applyTo(context, choices.file, { placed, groups });
  const stem = fittingStem(name) || 'assembly';
  const path = joinPath(folderOf(choices.file), newFileName(stem));
  const { products } = readStructure(Part21File.read(await draft.read(choices.file)));
  const { definition } = products.find((product) => product.id === id)!;
  const { paths } = await putOutOntoDraft(context, choices.file, [{ definition, path }]);
  const made = paths.get(definition)!;
  const change = await draft.finish(`${words}, a file of its own`);
  return { change, preview: { occurrences: held.map(({ occurrence }) => occurrence.name), gone, made } };
}

/** @throws Refusal for what is no assembly in the file, or has bodies of its own */
export async function planDissolve(
  context: Planning,
  choices: DissolveChoices,
): Promise<Planned<ArrangePreview>> {
  const { levels, held } = chosen(context.project, choices);
  const placed = new Map<number, Placing>();
  const added: Arrangement['added'][number][] = [];
  const dissolved = new Set(held.map(({ occurrence }) => occurrence.id));
  const begun = new Set<number>();
  for (const { parent, occurrence } of held) {
    const group = levels.byDefinition.get(occurrence.child)!;
    if (group.occurrences.length === 0)
      throw new Refusal(
        context.project.files.get(choices.file)!.scan.placeholders.includes(group.definition)
          ? `${group.name} lies in a file of its own: take it in first.`
          : `${group.name} is no assembly: it places nothing.`,
      );
    if (group.bodies.length > 0)
      throw new Refusal(
        `${group.name} has ${plural(group.bodies.length, 'body', 'bodies')} of its own besides what it places.`,
      );
    if (group.occurrences.some(({ id }) => dissolved.has(id)))
      throw new Refusal(`${group.name} places another one that is dissolved: do one after the other.`);
    // What other places of it still need stays in it; the first that goes takes its own along.
    const goes = levels.of.get(group.definition)!.every(({ occurrence: { id } }) => dissolved.has(id));
    const isFirst = goes && !begun.has(group.definition);
    begun.add(group.definition);
    for (const { id, placement } of group.occurrences) {
      const placing = { parent: parent.definition, placement: multiply(occurrence.placement, placement) };
      if (isFirst) placed.set(id, placing);
      else added.push({ like: id, ...placing });
    }
  }
  const words = held.length === 1 ? held[0]!.occurrence.name : `${held.length} assemblies`;
  return apply(
    context,
    choices.file,
    held,
    { placed, added, removed: [...dissolved] },
    `Dissolved ${words} in ${baseName(choices.file)}`,
  );
}

export async function planTakeAway(
  context: Planning,
  choices: TakeAwayChoices,
): Promise<Planned<ArrangePreview>> {
  const { held } = chosen(context.project, choices);
  const removed = held.map(({ occurrence }) => occurrence.id);
  const words = held.length === 1 ? held[0]!.occurrence.name : `${held.length} components`;
  return apply(context, choices.file, held, { removed }, `Removed ${words} from ${baseName(choices.file)}`);
}
