import { plural } from '#core/command/words';
import { baseName, extensionOf, folderOf, joinPath } from '#core/files/links/paths';
import { append } from '#core/multimap';
import type { Planned } from '#core/planned';
import type { Planning } from '#core/planning';
import { isCalled } from '#core/product/called';
import { hasStructure } from '#core/project/formats/endings';
import { fittingStem } from '#core/project/formats/file-stem';
import { structuredFormatOf } from '#core/project/formats/formats';
import type { ProductName } from '#core/project/formats/link-format';
import { changeableScan } from '#core/project/scan/changeable';
import { productsByDefinition } from '#core/project/scan/content';
import type { Project } from '#core/project/scan/project';
import { keyOf, linkedProduct, type ProductPlace, topProducts } from '#core/project/scan/tree';
import { Refusal } from '#core/refusal';
import type { RenameChoices, RenamedPart } from './operation';
import { standInsFor } from './parts';

interface Named {
  id: string;
  name: string;
}

/** @throws Refusal where there is no such part, or two parts of a file would have one id */
export async function planRename(
  { project, draft, progress }: Planning,
  { file, parts, files }: RenameChoices,
): Promise<Planned<{ parts: RenamedPart[] }>> {
  // 1. What each part is called from now on, and what stands for it.
  const names = new Map<string, ProductName[]>();
  const renamed = new Map<string, RenamedPart>();
  for (const wanted of parts) {
    const place = placeOf(project, wanted.file ?? file, wanted.part);
    const { path, product } = place;
    const { id, name } = wanted;
    if (renamed.has(keyOf(place))) throw new Refusal(`${product.name} of ${path} is named twice.`);
    const was = { id: product.id, name: product.name };
    const now = { id: id ?? was.id, name: name ?? was.name };
    append(names, path, changed(product.definition, was, now));
    let standIns = 0;
    for (const { holder, product: standIn } of standInsFor(project, place)) {
      const follows = changed(standIn.definition, standIn, followed(standIn, was, now));
      if (follows.id === undefined && follows.name === undefined) {
        if (isStrange(standIn, was))
          draft.warn(`${baseName(holder)} calls ${was.name} ${standIn.name}: that stays as it is.`);
        continue;
      }
      append(names, holder, follows);
      standIns++;
    }
    renamed.set(keyOf(place), { file: path, definition: product.definition, was, now, to: null, standIns });
  }
  for (const [path, changes] of names) refuseSameIds(project, path, changes);
  warnOfSameIds(project, [...renamed.values()], (words) => draft.warn(words));

  // 2. Each file once.
  for (const [n, [path, changes]] of [...names].entries()) {
    await progress(`Naming parts in ${baseName(path)}`, n, names.size);
    await draft.edit(path, (bytes) => structuredFormatOf(path, bytes).withProductsNamed(bytes, changes));
  }
  if (files)
    for (const part of renamed.values()) {
      const to = pathAfter(project, part, (path) => draft.free(path));
      if (to === null) continue;
      await draft.move(part.file, to);
      part.to = to;
    }
  const done = [...renamed.values()];
  const [only] = done;
  const change = await draft.finish(
    done.length === 1
      ? `Renamed ${inWords(only!.was, only!.now)} to ${inWords(only!.now, only!.was)}`
      : `Renamed ${plural(done.length, 'part')}`,
  );
  return { change, preview: { parts: done } };
}

/** The part that is meant: for a stand-in the one in its file. */
function placeOf(project: Project, path: string, part: string | undefined): ProductPlace {
  const scan = changeableScan(project, path);
  if (!hasStructure(path)) throw new Refusal(`${path} holds no parts that have names: only STEP does.`);
  if (part === undefined) {
    const [top, ...more] = topProducts(project, path);
    if (!top) throw new Refusal(`${path} holds neither a part nor an assembly.`);
    if (more.length > 0)
      throw new Refusal(`${path} holds ${more.length + 1} parts side by side: say which is meant.`);
    return top;
  }
  const fitting = scan.products.filter((product) => isCalled(product, part));
  const places = new Map(
    fitting.map((product) => {
      const place = partOf(project, path, product.definition);
      return [keyOf(place), place];
    }),
  );
  const [one, ...more] = places.values();
  if (!one) throw new Refusal(`${path} has no part ${part}.`);
  if (more.length > 0)
    throw new Refusal(
      `${places.size} parts of ${path} are called ${part}: name it by its number, ${fitting.map(({ definition }) => definition).join(', ')}.`,
    );
  return one;
}

function partOf(project: Project, path: string, definition: number): ProductPlace {
  const { scan } = project.files.get(path)!;
  const product = productsByDefinition(scan).get(definition)!;
  if (!scan.placeholders.includes(definition)) return { path, product };
  const link = (project.uses.get(path) ?? []).find(
    ({ kind, definitions }) => kind === 'component' && definitions.includes(definition),
  );
  const target = link?.to ? linkedProduct(project, link.to, product) : undefined;
  if (!target)
    throw new Refusal(`The file of ${product.name} in ${path} is not found: repair the link first.`);
  if (!hasStructure(target.path) || target.product.definition === 0)
    throw new Refusal(`${target.path} holds no parts that have names: only STEP does.`);
  return target;
}

/** Only what is another. */
function changed(definition: number, was: Named, now: Named): ProductName {
  return {
    definition,
    ...(now.id !== was.id && { id: now.id }),
    ...(now.name !== was.name && { name: now.name }),
  };
}

/** What stands for a part is called as it is; some write its name where its id belongs, or the other way round. */
function followed({ id, name }: Named, was: Named, now: Named): Named {
  return {
    id: id === was.id ? now.id : id === was.name ? now.name : id,
    name: name === was.name ? now.name : name === was.id ? now.id : name,
  };
}

function isStrange({ id, name }: Named, was: Named): boolean {
  return ![id, name].some((word) => word === was.id || word === was.name);
}

/** @throws Refusal where two products of a file would have one id that had not before */
function refuseSameIds(project: Project, path: string, changes: readonly ProductName[]): void {
  const anew = new Map(changes.map((change) => [change.definition, change]));
  const owners = new Map<string, { name: string; isNew: boolean }>();
  for (const { definition, id: before, name } of project.files.get(path)!.scan.products) {
    const id = anew.get(definition)?.id ?? before;
    if (id === '') continue;
    const isNew = id !== before;
    const other = owners.get(id);
    if (other && (isNew || other.isNew))
      throw new Refusal(
        `${name} and ${other.name} in ${path} would both have the id ${id}: choose another for one of them.`,
      );
    owners.set(id, { name, isNew });
  }
}

function warnOfSameIds(
  project: Project,
  renamed: readonly RenamedPart[],
  warn: (words: string) => void,
): void {
  const anew = new Map(
    renamed.filter(({ was, now }) => was.id !== now.id).map((part) => [part.now.id, part]),
  );
  if (anew.size === 0) return;
  const isRenamed = new Set(renamed.map(({ file, definition }) => `${file}#${definition}`));
  for (const path of project.files.keys())
    for (const place of topProducts(project, path)) {
      const part = anew.get(place.product.id);
      if (part && path !== part.file && !isRenamed.has(keyOf(place)))
        warn(`${path} has the id ${place.product.id}, too: links to either may be taken for the other.`);
    }
}

/** Where the file of a part goes that is named after it; null where it stays. */
function pathAfter(
  project: Project,
  { file, definition, now }: RenamedPart,
  free: (path: string) => string,
): string | null {
  const tops = topProducts(project, file);
  const isItsOwn = tops.length === 1 && tops[0]!.product.definition === definition;
  const stem = fittingStem(now.name);
  if (!isItsOwn || stem === '') return null;
  const to = joinPath(folderOf(file), `${stem}.${extensionOf(file)}`);
  return to === file ? null : free(to);
}

/** The name, unless only the id is another. */
function inWords(one: Named, other: Named): string {
  return one.name === other.name ? one.id : one.name;
}
