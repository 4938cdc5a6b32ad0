import { someOf } from '#core/command/words';
import { looksPacked, unpackedStep } from '#core/files/archive/packed-step';
import { baseName } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import { outsideReferences } from '#core/files/part21/outside-references';
import { splice } from '#core/files/part21/splice';
import type { Planned } from '#core/planned';
import type { Planning } from '#core/planning';
import { headsOf, millimetresOf } from '#core/product/restructure/heads';
import { protocolOf, schemaEdit, withAdministrationOf } from '#core/product/restructure/schemas';
import { type SamePart, withOneStandInEach } from '#core/product/restructure/stand-ins';
import { type TakenText, type Text, takeIn } from '#core/product/restructure/take-in';
import { structuredFormatOf } from '#core/project/formats/formats';
import { changeableScan } from '#core/project/scan/changeable';
import { topProductsOf } from '#core/project/scan/content';
import type { Project } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import type { TakeInChoices, TakeInPreview } from './operation';
import { componentLinks, linkedParts } from './parts';

/** @throws Refusal where there is no such assembly or component, or none that can be taken in */
export async function planTakeIn(context: Planning, choices: TakeInChoices): Promise<Planned<TakeInPreview>> {
  const { project, draft, progress } = context;
  const { file, dropUnused } = choices;
  const { parts, staying } = wantedParts(project, choices);
  const nameOf = (path: string) => topProductsOf(project.files.get(path)!.scan)[0]!.name;

  // 1. The texts, each with its links as seen from the assembly, and following no source.
  const paths = new Set(parts.map(({ path }) => path));
  const texts = new Map<string, Uint8Array>();
  const followed: { name: string; to: string }[] = [];
  const links: { kind: 'component' | 'attachment' | 'resource'; written: string; to: string }[] = [];
  for (const [n, { path }] of parts.entries()) {
    await progress(`Reading ${baseName(path)}`, n, 2 * parts.length);
    const read = await draft.readAt(path, file);
    let { bytes } = read;
    for (const { kind, written, to } of read.links)
      if (kind === 'source') {
        bytes = structuredFormatOf(path, bytes).withoutSource(bytes, written);
        followed.push({ name: nameOf(path), to });
      } else if (kind === 'component' && paths.has(to)) continue;
      else if (kind === 'component' || kind === 'attachment' || kind === 'resource')
        links.push({ kind, written, to });
    texts.set(path, withoutLinks(project, path, paths, bytes));
  }

  const [one] = followed;
  if (followed.length === 1)
    draft.warn(`${one!.name} follows ${one!.to} no longer: it is part of the assembly from now on.`);
  else if (followed.length > 1)
    draft.warn(
      `${followed.length} parts follow the files that they came out of no longer: ${someOf(
        followed.map(({ name }) => name),
        5,
      )}.`,
    );

  // 2. All of them together.
  await draft.edit(file, (bytes) => {
    const before = withoutLinks(project, file, paths, bytes);
    return joined(project, file, before, texts, (words) => draft.warn(words));
  });
  for (const { kind, written, to } of links) draft.linked({ holder: file, kind, written }, to);

  // 3. What becomes of the files.
  const { unused, used } = usersAfter(project, file, [...paths]);
  if (dropUnused) for (const path of unused) await draft.remove(path);
  const astray = [file, ...paths].flatMap((holder) =>
    componentLinks(project, holder).filter(({ to }) => to === null),
  );
  if (astray.length > 0)
    draft.warn(
      `${astray.length === 1 ? 'A component stays a link: its file is' : `${astray.length} components stay links: their files are`} not found, or not surely (${someOf(
        astray.map(({ written }) => baseName(written)),
        5,
      )}).`,
    );
  for (const { path, why } of staying) draft.warn(`${path} stays a file: ${why}.`);
  const what = parts.length === 1 ? baseName(parts[0]!.path) : `${parts.length} files`;
  const change = await draft.finish(`Took ${what} into ${baseName(file)}`);
  const taken = parts.map(({ path, placings }) => ({
    path,
    name: nameOf(path),
    placings,
    bytes: project.files.get(path)!.bytes,
  }));
  return { change, preview: { taken, staying, unused, used } };
}

function wantedParts(project: Project, { file, components, deep }: TakeInChoices) {
  changeableScan(project, file);
  const links = componentLinks(project, file);
  if (links.length === 0)
    throw new Refusal(`${file} refers to no components: all of them lie in it already.`);
  const named = components && new Set(components.map((wanted) => pathOf(project, file, wanted)));
  const found = linkedParts(project, file, {
    isDeep: deep,
    ...(named && { isWanted: (path: string) => named.has(path) }),
  });
  const refused = named && found.staying.find(({ path }) => named.has(path));
  if (refused) throw new Refusal(`${refused.path} cannot be taken in: ${refused.why}.`);
  if (found.parts.length === 0) {
    const [one] = found.staying;
    throw new Refusal(
      one
        ? `None of its components can be taken in. ${one.path}: ${one.why}.`
        : `None of the files that ${file} refers to is there: repair its links first.`,
    );
  }
  return found;
}

/** The file that is meant by a component's name, id, path or file name. */
function pathOf(project: Project, file: string, wanted: string): string {
  const { products, placeholders } = project.files.get(file)!.scan;
  const found = new Set<string>();
  let isBroken = false;
  for (const { to, written, definitions } of componentLinks(project, file)) {
    const names = products.flatMap(({ definition, id, name }) =>
      definitions.includes(definition) && placeholders.includes(definition)
        ? [id, name, String(definition)]
        : [],
    );
    const top = to === null ? undefined : topProductsOf(project.files.get(to)!.scan)[0];
    if (![...names, to, written, baseName(written), top?.name, top?.id].includes(wanted)) continue;
    if (to === null) isBroken = true;
    else found.add(to);
  }
  const [one, ...more] = found;
  if (one !== undefined && more.length === 0) return one;
  if (one !== undefined)
    throw new Refusal(
      `${more.length + 1} components of ${file} are called ${wanted}: name them by their paths, ${[...found].join(', ')}.`,
    );
  throw new Refusal(
    isBroken
      ? `The file of ${wanted} is not there: repair the link first.`
      : products.some(({ id, name }) => id === wanted || name === wanted)
        ? `${wanted} lies in ${file} already.`
        : `${file} has no component ${wanted}.`,
  );
}

/** The stand-ins of a file for those that are taken in. */
function standInsOf(project: Project, holder: string, taken: ReadonlySet<string>): Map<number, string> {
  const { placeholders } = project.files.get(holder)!.scan;
  const found = new Map<number, string>();
  for (const { to, definitions } of componentLinks(project, holder))
    if (to !== null && taken.has(to))
      for (const definition of definitions)
        if (placeholders.includes(definition) && !found.has(definition)) found.set(definition, to);
  return found;
}

function withoutLinks(
  project: Project,
  path: string,
  taken: ReadonlySet<string>,
  bytes: Uint8Array,
): Uint8Array {
  const standIns = [...standInsOf(project, path, taken).keys()];
  const content = looksPacked(bytes) ? unpackedStep(bytes) : bytes;
  return standIns.length === 0
    ? content
    : structuredFormatOf(path, content).withoutReferences(content, standIns);
}

function joined(
  project: Project,
  file: string,
  assembly: Uint8Array,
  texts: ReadonlyMap<string, Uint8Array>,
  warn: (words: string) => void,
): Uint8Array {
  const paths = new Set(texts.keys());
  const read = new Map([...texts].map(([path, bytes]) => [path, Part21File.read(bytes)]));
  for (const [path, text] of read)
    if (outsideReferences(text).length > 0)
      throw new Refusal(`${path} refers to instances of other files, which cannot stand in ${file}.`);
  const productOf = (path: string) => topProductsOf(project.files.get(path)!.scan)[0]!.definition;
  const units = new Map(
    [...read].map(([path, text]) => {
      const head = headsOf(text, [productOf(path)]).get(productOf(path));
      return [path, millimetresOf(text, head?.representation)];
    }),
  );

  // 1. The largest protocol stands in the header, and everything is said in its words.
  const before = Part21File.read(assembly);
  let largest = before;
  for (const text of read.values()) if (protocolOf(text) > protocolOf(largest)) largest = text;
  const protocol = protocolOf(before) < 0 ? -1 : protocolOf(largest);
  const strange = [...read].filter(([, text]) => protocolOf(text) < 0 || protocol < 0);
  for (const [path, { header }] of strange)
    if (header.schemas[0] !== before.header.schemas[0])
      warn(
        `${baseName(path)} is written by the schema ${header.schemas[0]}, ${baseName(file)} by ${before.header.schemas[0]}: what the latter does not know stays as it is.`,
      );
  if (largest !== before && protocol >= 0)
    warn(
      `${baseName(file)} is written by ${largest.header.schemas[0]} from now on, as ${baseName([...read].find(([, text]) => text === largest)![0])} is: it was ${before.header.schemas[0]}.`,
    );
  const inWords = (text: Part21File) => {
    const bytes = withAdministrationOf(protocol, text);
    return bytes === text.bytes ? text : Part21File.read(bytes);
  };
  const ready = (path: string, text: Part21File): Text => {
    const standIns = standInsOf(project, path, paths);
    const bytes = withOneStandInEach(text, sameParts(standIns, units));
    const one = bytes === text.bytes ? text : Part21File.read(bytes);
    return { file: one, standIns: new Map([...standIns].filter(([definition]) => one.has(definition))) };
  };

  // 2. One text of all.
  const headed =
    largest === before || protocol < 0
      ? before
      : Part21File.read(splice(before.bytes, schemaEdit(before, largest)));
  const parts = new Map<string, TakenText>();
  for (const [path, text] of read)
    parts.set(path, { ...ready(path, inWords(text)), product: productOf(path) });
  return takeIn(ready(file, inWords(headed)), parts);
}

function sameParts(standIns: ReadonlyMap<number, string>, units: ReadonlyMap<string, number>): SamePart[] {
  const byPath = new Map<string, number[]>();
  for (const [definition, path] of standIns) byPath.set(path, [...(byPath.get(path) ?? []), definition]);
  return [...byPath].map(([path, definitions]) => ({ definitions, millimetres: units.get(path)! }));
}

/** Which of the files that were taken in nothing uses any more, and what uses the others. */
function usersAfter(
  project: Project,
  file: string,
  taken: readonly string[],
): Pick<TakeInPreview, 'unused' | 'used'> {
  const unused = new Set(taken);
  const othersOf = (path: string) => [
    ...new Set(
      (project.usedBy.get(path) ?? []).flatMap(({ holder, kind }) =>
        unused.has(holder) || (holder === file && kind === 'component') ? [] : [holder],
      ),
    ),
  ];
  for (let isStable = false; !isStable; ) {
    isStable = true;
    for (const path of [...unused])
      if (othersOf(path).length > 0) {
        unused.delete(path);
        isStable = false;
      }
  }
  return {
    unused: [...unused],
    used: taken.filter((path) => !unused.has(path)).map((path) => ({ path, by: othersOf(path) })),
  };
}
