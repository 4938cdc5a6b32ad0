import { plural, someOf } from '#core/command/words';
import { baseName } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import { addCounts, append } from '#core/multimap';
import type { Planned } from '#core/planned';
import { type Planning, timeStampOf } from '#core/planning';
import { isCalled } from '#core/product/called';
import { type Arrangement, arranged } from '#core/product/restructure/arrange';
import { Anchors } from '#core/product/restructure/belonging';
import { withComponentsOutside } from '#core/product/restructure/put-out';
import { withoutProducts } from '#core/product/restructure/without-product';
import { type Product, readStructure } from '#core/product/structure';
import { structuredFormatOf } from '#core/project/formats/formats';
import { changeableScan } from '#core/project/scan/changeable';
import type { Project } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import { Checks } from './checks';
import type { ArrangePreview } from './choices';
import { type Held, Levels } from './levels';

/** The levels of an assembly file that can be changed. @throws Refusal where there is no such file, or it is damaged */
export function levelsOf(project: Project, file: string): Levels {
  return new Levels(changeableScan(project, file).products);
}

/** The occurrences that are meant. @throws Refusal where there is no such file or occurrence */
export function chosen(
  project: Project,
  { file, occurrences }: { file: string; occurrences: readonly string[] },
): { levels: Levels; held: Held[] } {
  const levels = levelsOf(project, file);
  const [named, ofComponent] = [new Map<string, Held[]>(), new Map<string, Held[]>()];
  for (const one of [...levels.of.values()].flat()) {
    const { id, name, child } = one.occurrence;
    for (const word of new Set([String(id), name])) append(named, word, one);
    const product = levels.byDefinition.get(child);
    for (const word of new Set([product?.id, product?.name]))
      if (word !== undefined) append(ofComponent, word, one);
  }
  const held = new Map<number, Held>();
  for (const wanted of occurrences) {
    const meant = named.get(wanted) ?? ofComponent.get(wanted);
    if (!meant) throw new Refusal(`${file} has no component ${wanted}.`);
    for (const one of meant) held.set(one.occurrence.id, one);
  }
  return { levels, held: [...held.values()] };
}

/** The assembly in a file that is meant by its name, its id or its number. @throws Refusal where there is none, or several */
export function assemblyNamed(levels: Levels, { file, into }: { file: string; into: string }): Product {
  const fitting = levels.products.filter((product) => isCalled(product, into));
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
export async function apply(
  context: Planning,
  file: string,
  held: readonly Held[],
  arrangement: Partial<Arrangement>,
  words: string,
): Promise<Planned<ArrangePreview>> {
  const gone = await applyTo(context, file, arrangement);
  const change = await context.draft.finish(words);
  return { change, preview: { occurrences: held.map(({ occurrence }) => occurrence.name), gone } };
}

/**
 * The same without an end: more may be done in the same change.
 * @param isAsLarge what files state of their size stays right: other products of the same shapes stand at the same places
 * @returns the names of what is in the file no longer
 */
export async function applyTo(
  { project, draft, now }: Planning,
  file: string,
  arrangement: Partial<Arrangement>,
  isAsLarge = false,
): Promise<string[]> {
  const placeholders = new Set(project.files.get(file)!.scan.placeholders);
  const gone: string[] = [];
  const lost = new Map<string, number>();
  const checks = new Checks(project, draft);
  await draft.edit(file, (before) => {
    const whole = Part21File.read(before);
    const { products } = readStructure(whole);
    const wasPlaced = placedIn(products);
    const result = arranged(whole, products, arrangement);
    addCounts(lost, result.lost);
    let bytes = result.bytes;
    // What goes may have placed more.
    for (;;) {
      const text = Part21File.read(bytes);
      const { products: left } = readStructure(text);
      const placed = placedIn(left);
      const unplaced = left.filter(({ definition }) => wasPlaced.has(definition) && !placed.has(definition));
      if (unplaced.length === 0) return isAsLarge ? text.bytes : checks.fittingTo(file, text, products, left);
      gone.push(...unplaced.map(({ name }) => name));
      const links = new Set(
        unplaced.flatMap(({ definition }) => (placeholders.has(definition) ? [definition] : [])),
      );
      bytes = withoutUnplaced(text, left, unplaced, links, { file, timeStamp: timeStampOf(now), lost });
    }
  });
  await checks.fitAbove(file);
  for (const [type, count] of lost)
    draft.warn(
      `${plural(count, `${type} says`, `${type} say`)} something of a component at the level where it was: left out.`,
    );
  if (gone.length > 0)
    draft.warn(`Nothing in ${baseName(file)} places ${someOf(gone, 5)} any more: no longer in the file.`);
  const users = new Set(
    (project.usedBy.get(file) ?? []).flatMap(({ kind, holder }) => (kind === 'component' ? [holder] : [])),
  );
  if (users.size > 0)
    draft.warn(
      `${plural(users.size, 'assembly places', 'assemblies place')} ${baseName(file)}: the change shows there, too.`,
    );
  return gone;
}

function placedIn(products: readonly Product[]): Set<number> {
  return new Set(products.flatMap(({ occurrences }) => occurrences.map(({ child }) => child)));
}

interface Leaving {
  file: string;
  timeStamp: string;
  lost: Map<string, number>;
}

/** A file without products that nothing places, with all that belongs to them. @param links those that only stand for files */
function withoutUnplaced(
  text: Part21File,
  products: readonly Product[],
  unplaced: readonly Product[],
  links: ReadonlySet<number>,
  { file, timeStamp, lost }: Leaving,
): Uint8Array {
  let bytes = text.bytes;
  const own = unplaced.filter(({ definition }) => !links.has(definition));
  if (own.length > 0) {
    const outside = withComponentsOutside(
      new Anchors(text, products),
      own.map(({ definition }) => ({ definition, fileName: '', timeStamp, written: 'gone' })),
    );
    addCounts(lost, outside.lost);
    bytes = outside.assembly;
  }
  const definitions = unplaced.map(({ definition }) => definition);
  const bare = structuredFormatOf(file, bytes).withoutReferences(bytes, definitions);
  return withoutProducts(Part21File.read(bare), definitions);
}
