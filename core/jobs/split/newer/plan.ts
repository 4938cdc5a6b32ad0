import { baseName, folderOf, relativePath, stemOf } from '#core/files/links/paths';
import { writeBodyFile } from '#core/geometry/bodies/body-file';
import { choicesOfRecipe } from '#core/jobs/split/choices';
import { bodiesIn, groupBodies } from '#core/jobs/split/groups';
import { nameComponents } from '#core/jobs/split/names';
import { originOn } from '#core/jobs/split/origin';
import { assemblySource, placingsOfGroup } from '#core/jobs/split/placings';
import type { Remade, RemakeRules, Remaking } from '#core/operation';
import { type PlanContext, type Planning, timeStampOf } from '#core/planning';
import type { Colour } from '#core/product/appearance';
import type { Body } from '#core/product/structure';
import { writeAssembly } from '#core/product/write-assembly';
import type { ComponentToWrite } from '#core/product/write-components';
import type { Draft } from '#core/project/change/draft';
import { structuredFormatOf } from '#core/project/formats/formats';
import { Refusal } from '#core/refusal';
import { type ComponentFate, decideFate, originOf } from './decide';
import type { FollowLine, FollowOutline } from './outline';
import { readOutline } from './read-outline';
import { recipeIn, type TiedComponent } from './ties';

/** What is followed, and how. */
export interface FollowToPlan extends RemakeRules {
  outline: FollowOutline;
}

/** The files of a split: the recipe is run on the newest version of their source. */
export async function remakeSplit(
  context: PlanContext,
  { source, links, ...rules }: Remaking,
): Promise<Remade> {
  const outline = await readOutline(context, source);
  const isBehind = links.some(({ state }) => state === 'behind');
  return { outline, words: isBehind ? await followSource(context, { outline, ...rules }) : null };
}

/**
 * Brings everything that came out of a source by a split up to its newest version: changed bodies get a new version of their
 * file, moved ones a new placement, new ones a file; what has changes of its own is left alone.
 * @returns how many bodies there are of each
 * @throws Refusal when the assembly has components of its own and placements would have to change
 */
export async function followSource(
  planning: Planning,
  { outline, ...choices }: FollowToPlan,
): Promise<string> {
  const { draft, progress } = planning;
  const { ties, source } = outline;
  const base = planning.project.files.get(source.path)!.sha256;

  // 1. Components that there are.
  const fates: ComponentFate[] = [];
  const parts: ComponentToWrite[] = [];
  for (const [n, component] of ties.components.entries()) {
    await progress('Looking at what changes', n, ties.components.length);
    const fate = decideFate(outline, component, choices);
    fates.push(fate);
    if (fate.warning !== null) draft.warn(fate.warning);
    await writeComponent(planning, outline, fate, base);
    if (fate.placings.length > 0)
      parts.push({
        ...component.product,
        placings: fate.placings,
        written: seenFromAssembly(outline, component.path),
      });
  }

  // 2. Bodies that have no file yet.
  const added = writeAdded(planning, outline, fates, base);
  parts.push(...added);

  // 3. Files that nothing of the source is in any more are not behind it for ever.
  for (const { holder, written } of ties.bereft) await rememberNewer(draft, holder, written, base, new Map());

  // 4. The assembly.
  const isAnother = added.length > 0 || fates.some(({ isMoved }) => isMoved);
  await writeWhole(planning, outline, isAnother ? parts : null, base);
  const count = (change: FollowLine['change']) =>
    outline.lines.filter((line) => line.change === change).length;
  return `${count('changed')} changed, ${count('moved')} moved, ${count('new')} new, ${count('gone')} gone, ${count('unchanged')} unchanged`;
}

/** Writes the file of a component as it was decided. */
async function writeComponent(
  { draft, now }: Planning,
  { source, taken }: FollowOutline,
  { component, file }: ComponentFate,
  base: string,
): Promise<void> {
  const { path, link } = component;
  if (file.does === 'renew') await rememberNewer(draft, path, link.written, base, file.now);
  if (file.does !== 'rewrite') return;
  const written = relativePath(path, source.path);
  draft.write(path, () =>
    writeBodyFile(
      source,
      file.texts.map((body) => source.textOf(body)),
      {
        ...kindOf(component),
        ...appearanceKept(component, file.pairs, taken),
        origin: originOf(component),
        fileName: baseName(path),
        timeStamp: timeStampOf(now),
        source: { ...component.memory, written, sha256: base, bodies: file.items.map(idAndName) },
      },
    ),
  );
}

/** Writes files for the bodies that are new, and for those that shared a file and have another shape now. */
function writeAdded(
  { draft, now }: Planning,
  outline: FollowOutline,
  fates: readonly ComponentFate[],
  base: string,
): ComponentToWrite[] {
  const { ties, source, measured, taken } = outline;
  const parted = fates.flatMap(({ component, parted: own }) => own.map((one) => ({ component, ...one })));
  const added = [...outline.added, ...parted.map(({ newer }) => newer)];
  if (added.length === 0) return [];
  const sharedFile = new Map(parted.map(({ newer, ...from }) => [source.bodies[newer]!.id, from]));
  const recipe = recipeIn(ties);
  const choices = { ...choicesOfRecipe(recipe), bodies: added.map((n) => source.bodies[n]!.id) };
  const groups = groupBodies(source, choices, measured);
  const folder = folderOf(ties.assembly?.path ?? ties.components[0]!.path);
  const names = nameComponents(
    groups,
    choices,
    { stem: stemOf(source.path), folder },
    ({ representative }) => measured.get(representative.id)?.facts,
    (path) => draft.isTaken(path),
  );
  return groups.map((group, n) => {
    const { name, file } = names[n]!;
    const { representative } = group;
    const id = `${source.product.id}-N${representative.id}`;
    const from = sharedFile.get(representative.id);
    const written = relativePath(file, source.path);
    const { facts, features } = measured.get(representative.id) ?? {};
    const origin = originOn(choices.origin, { facts, features });
    const { material } = source.scope.productOf.get(representative.id) ?? {};
    draft.write(file, () =>
      writeBodyFile(source, [source.textOf(representative)], {
        ...(from ? kindOf(from.component) : { use: choices.use, material }),
        ...(from
          ? appearanceKept(from.component, [[from.n, representative]], taken)
          : { styles: choices.styles }),
        id,
        name,
        origin,
        fileName: baseName(file),
        timeStamp: timeStampOf(now),
        source: {
          written,
          relation: 'split',
          sha256: base,
          bodies: bodiesIn(group).map(idAndName),
          recipe,
        },
      }),
    );
    draft.linked({ holder: file, kind: 'source', written }, source.path);
    return {
      id,
      name,
      placings: placingsOfGroup(group, name, origin),
      written: seenFromAssembly(outline, file),
    };
  });
}

/**
 * Writes the assembly that puts the bodies together.
 * @param parts what it places from now on; null where that stays as it is
 */
async function writeWhole(
  { draft, now }: Planning,
  { ties, source }: FollowOutline,
  parts: ComponentToWrite[] | null,
  base: string,
): Promise<void> {
  if (!ties.assembly) return;
  const { path, link, id, name } = ties.assembly;
  if (parts === null) return rememberNewer(draft, path, link.written, base, new Map());
  if (!ties.isPure)
    throw new Refusal(
      `${path} was changed since the split: it places other things too. Its placements cannot be renewed here; split the source anew beside it.`,
    );
  const also = assemblySource(path, source.path, base, recipeIn(ties) ?? { operation: 'split', choices: {} });
  const timeStamp = timeStampOf(now);
  draft.write(
    path,
    writeAssembly({ id, name, fileName: baseName(path), timeStamp, components: parts, also }),
  );
}

function seenFromAssembly({ ties }: FollowOutline, path: string): string {
  return relativePath(ties.assembly?.path ?? path, path);
}

function idAndName({ id, name }: Body): { id: number; name: string } {
  return { id, name };
}

/** What a component keeps of its product when it is written anew. */
function kindOf({ product }: TiedComponent) {
  return { ...product, use: product.use ?? ('made' as const) };
}

/**
 * How a component that is written anew looks: as the source does now, but a colour that the component was given, at the
 * split or later, stays.
 * @param pairs position of the placing, and the body that it is of now
 */
function appearanceKept(
  { bodies, placings, memory }: TiedComponent,
  pairs: readonly (readonly [n: number, newer: Body])[],
  taken: FollowOutline['taken'],
): { styles: boolean; colours: Map<number, Colour> } {
  const colours = new Map<number, Colour>();
  const version = taken.get(memory.sha256 ?? '');
  let styles = false;
  for (const [n, newer] of pairs) {
    const own = bodies?.[n]?.colour ?? null;
    const older = version?.bodies.find(({ id }) => id === placings[n]!.id) ?? newer;
    if (own !== null && own !== older.colour) colours.set(newer.id, own);
    // A body that was split off without the colours of its source stays without.
    if (own !== null || older.colour === null) styles = true;
  }
  return { styles, colours };
}

/** Has a file remember the version of its source that it follows now. */
async function rememberNewer(
  draft: Draft,
  path: string,
  ...renewal: [written: string, sha256: string, bodies: ReadonlyMap<number, Body | null>]
): Promise<void> {
  const bytes = await draft.read(path);
  draft.write(path, structuredFormatOf(path, bytes).withSourceRenewed(bytes, ...renewal));
}
