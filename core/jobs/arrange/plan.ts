import { plural } from '#core/command/words';
import { baseName } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import type { Planned } from '#core/planned';
import { type Planning, timeStampOf } from '#core/planning';
import { IDENTITY, invertRigid, type Matrix4, multiply } from '#core/product/matrix';
import { type Arrangement, arranged, type Placing } from '#core/product/restructure/arrange';
import { Anchors } from '#core/product/restructure/belonging';
import { putOut } from '#core/product/restructure/put-out';
import { withoutProduct } from '#core/product/restructure/without-product';
import { type Product, readStructure } from '#core/product/structure';
import { structuredFormatOf } from '#core/project/formats/formats';
import type { Project } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import type { ArrangePreview, DissolveChoices, GroupChoices, MoveChoices, TakeAwayChoices } from './choices';
import { type Held, Levels, MOST_PLACINGS } from './levels';

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
  const ids = new Set(levels.products.map(({ id }) => id));
  let id = name;
  for (let n = 2; ids.has(id); n++) id = `${name}-${n}`;
  const placed = new Map(
    held.map(({ occurrence }) => [occurrence.id, { parent: 'group', placement: occurrence.placement }]),
  );
  const groups = [{ key: 'group', id, name, parent: parent.definition, placement: IDENTITY }];
  const words = `Grouped ${plural(held.length, 'component')} of ${parent.name} as ${name}`;
  return apply(context, choices.file, held, { placed, groups }, words);
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

/** The occurrences that are meant. @throws Refusal where there is no such file or occurrence */
function chosen(
  project: Project,
  { file, occurrences }: { file: string; occurrences: readonly string[] },
): { levels: Levels; held: Held[] } {
  const scan = project.files.get(file)?.scan;
  if (!scan) throw new Refusal(`There is no file ${file}.`);
  if (scan.error !== null) throw new Refusal(`${file}: ${scan.error}`);
  if (scan.damage !== null)
    throw new Refusal(`${file}: ${scan.damage} Repair it in the system that wrote it first.`);
  const levels = new Levels(scan.products);
  const all = [...levels.of.values()].flat();
  const held = new Map<number, Held>();
  for (const wanted of occurrences) {
    const named = all.filter(({ occurrence: { id, name } }) => String(id) === wanted || name === wanted);
    const ofComponent = all.filter(({ occurrence: { child } }) => {
      const product = levels.byDefinition.get(child);
      return product?.name === wanted || product?.id === wanted;
    });
    const meant = named.length > 0 ? named : ofComponent;
    if (meant.length === 0) throw new Refusal(`${file} has no component ${wanted}.`);
    for (const one of meant) held.set(one.occurrence.id, one);
  }
  return { levels, held: [...held.values()] };
}

function assemblyNamed(levels: Levels, { file, into }: MoveChoices): Product {
  const fitting = levels.products.filter(
    ({ definition, id, name }) => String(definition) === into || id === into || name === into,
  );
  const [one, ...more] = fitting;
  if (!one) throw new Refusal(`${file} has no assembly ${into}.`);
  if (more.length > 0)
    throw new Refusal(
      `${fitting.length} assemblies of ${file} are called ${into}: name it by its number, ${fitting.map(({ definition }) => definition).join(', ')}.`,
    );
  if (one.occurrences.length === 0)
    throw new Refusal(`${one.name} is no assembly in this file: it places nothing here.`);
  return one;
}

/** Arranges the file, and lets products go that nothing places any more. */
async function apply(
  { project, draft, now }: Planning,
  file: string,
  held: readonly Held[],
  arrangement: Partial<Arrangement>,
  words: string,
): Promise<Planned<ArrangePreview>> {
  const { placeholders } = project.files.get(file)!.scan;
  const gone: string[] = [];
  const lost = new Map<string, number>();
  const noteLost = (more: ReadonlyMap<string, number>) => {
    for (const [type, count] of more) lost.set(type, (lost.get(type) ?? 0) + count);
  };
  await draft.edit(file, (before) => {
    const whole = Part21File.read(before);
    const { products } = readStructure(whole);
    const wasPlaced = placedIn(products);
    const result = arranged(whole, products, arrangement);
    noteLost(result.lost);
    let bytes = result.bytes;
    // What goes may have placed more.
    for (;;) {
      const text = Part21File.read(bytes);
      const { products: left } = readStructure(text);
      const placed = placedIn(left);
      const product = left.find(({ definition }) => wasPlaced.has(definition) && !placed.has(definition));
      if (!product) return bytes;
      gone.push(product.name);
      bytes = withoutUnplaced(text, left, product, placeholders.includes(product.definition), {
        file,
        timeStamp: timeStampOf(now),
        noteLost,
      });
    }
  });
  for (const [type, count] of lost)
    draft.warn(
      `${plural(count, `${type} says`, `${type} say`)} something of a component at the level where it was: left out.`,
    );
  if (gone.length > 0)
    draft.warn(`Nothing in ${baseName(file)} places ${gone.join(', ')} any more: no longer in the file.`);
  const users = new Set(
    (project.usedBy.get(file) ?? []).flatMap(({ kind, holder }) => (kind === 'component' ? [holder] : [])),
  );
  if (users.size > 0)
    draft.warn(
      `${plural(users.size, 'assembly places', 'assemblies place')} ${baseName(file)}: the change shows there, too.`,
    );
  const change = await draft.finish(words);
  return { change, preview: { occurrences: held.map(({ occurrence }) => occurrence.name), gone } };
}

function placedIn(products: readonly Product[]): Set<number> {
  return new Set(products.flatMap(({ occurrences }) => occurrences.map(({ child }) => child)));
}

interface Leaving {
  file: string;
  timeStamp: string;
  noteLost(lost: ReadonlyMap<string, number>): void;
}

/** A file without a product that nothing places, with all that belongs to it. */
function withoutUnplaced(
  text: Part21File,
  products: readonly Product[],
  { definition }: Product,
  isLink: boolean,
  { file, timeStamp, noteLost }: Leaving,
): Uint8Array {
  let bytes = text.bytes;
  if (!isLink) {
    const out = putOut(new Anchors(text, products), {
      definition,
      fileName: '',
      timeStamp,
      written: 'gone',
    });
    noteLost(out.lost);
    bytes = out.assembly;
  }
  const bare = structuredFormatOf(file, bytes).withoutReferences(bytes, [definition]);
  return withoutProduct(Part21File.read(bare), definition);
}
