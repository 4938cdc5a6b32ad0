import { findLoops } from '#core/files/links/loops';
import { baseName } from '#core/files/links/paths';
import { type FoundBy, type LinkState, PathIndex, resolveWritten } from '#core/files/links/resolve';
import { append, groupBy } from '#core/multimap';
import type { SourceMemory } from '#core/product/source/memory';
import type { Attachment } from '#core/project/formats/attachments';
import { LINK_KINDS, type LinkKind } from '#core/project/formats/kinds';
import { MANIFEST_NAME } from '#core/project/formats/manifest';
import { atOnce, type Steps } from '#core/steps';
import type { ContentScan } from './content';
import { FitChecker } from './fit';

/** One file of a project with what its bytes say. */
export interface ScannedFile {
  path: string;
  bytes: number;
  sha256: string;
  scan: ContentScan;
}

/** A link with where it leads. `holder` + `kind` + `written` name it. */
export interface ProjectLink {
  holder: string;
  kind: LinkKind;
  written: string;
  to: string | null;
  state: LinkState;
  reason: string;
  /** How many times the holder places the component, all levels of its own structure multiplied. */
  occurrences: number;
  /** The holder's products that stand for the target. */
  definitions: number[];
  rivals: string[];
  /** How it was found; left out where nothing was. */
  found?: FoundBy;
  /** The file that it was found at and that is another part than the holder asks for. */
  doubted?: string;
  /** For a source: which version was taken, and which bodies of it. */
  source?: SourceMemory;
}

/** Everything known about a project's files and the links between them. */
export interface Project {
  files: ReadonlyMap<string, ScannedFile>;
  links: readonly ProjectLink[];
  /** Links by the file that holds them. */
  uses: ReadonlyMap<string, readonly ProjectLink[]>;
  /** Links by the file that they lead to. */
  usedBy: ReadonlyMap<string, readonly ProjectLink[]>;
  loops: ReadonlyMap<string, readonly string[]>;
  /** Files that the manifest attaches to models, by the model; those that were found. */
  attached: ReadonlyMap<string, readonly Attachment[]>;
  /** Folders in which a file is looked for when it is not at its written path. */
  searchFolders: readonly string[];
}

export interface ResolveOptions {
  searchFolders?: readonly string[];
}

/** Resolves all links of a project. Pure; linear in files and links. */
export function resolveProject(scanned: Iterable<ScannedFile>, options: ResolveOptions = {}): Project {
  return atOnce(resolveSteps(scanned, options));
}

/** So many files are gone through between rests. */
const RESTS = 64;

/** The same in steps. */
export function* resolveSteps(scanned: Iterable<ScannedFile>, options: ResolveOptions = {}): Steps<Project> {
  // 1. Each link on its own.
  const files = new Map(
    [...scanned].sort((a, b) => (a.path < b.path ? -1 : 1)).map((file) => [file.path, file]),
  );
  const index = new PathIndex(files.keys());
  const links: ProjectLink[] = [];
  let steps = 0;
  yield;
  for (const { path, scan } of files.values()) {
    if (steps++ % RESTS === 0) yield;
    if (scan.links.length === 0) continue;
    const placings = countPlacings(scan);
    for (const link of scan.links) {
      if (steps++ % RESTS === 0) yield;
      const { state, to, reason, rivals, found } = resolveWritten(
        path,
        link.written,
        index,
        options.searchFolders,
      );
      let occurrences = 0;
      for (const definition of link.definitions) occurrences += placings.get(definition) ?? 0;
      const resolved: ProjectLink = {
        holder: path,
        kind: link.kind,
        written: link.written,
        to,
        state,
        reason,
        occurrences,
        definitions: link.definitions,
        rivals: rivals ?? [],
        ...(found !== undefined && { found }),
      };
      if (link.source) {
        resolved.source = link.source;
        const now = to === null ? undefined : files.get(to)?.sha256;
        if (now !== undefined && link.source.sha256 !== null && link.source.sha256 !== now) {
          resolved.state = 'behind';
          resolved.reason = `${baseName(to!)} has a newer version than the one this was taken from.`;
        }
      }
      links.push(resolved);
    }
  }

  // 2. Those that lead to another part than their holder asks for.
  yield;
  const components = links
    .filter(({ kind, to }) => kind === 'component' && to !== null)
    .map((link) => ({
      holder: link.holder,
      definitions: link.definitions,
      to: link.to,
      isFar: link.found === 'by name',
      link,
    }));
  yield;
  for (const { link, reason, carriers } of yield* new FitChecker(files).doubtedSteps(components)) {
    const found = link.to!;
    Object.assign(link.link, {
      state: 'ambiguous',
      to: null,
      reason,
      rivals: [found, ...carriers],
      doubted: found,
    });
  }

  // 3. The loops that they form together.
  yield;
  const targets = new Map<string, string[]>();
  for (const { kind, holder, to } of links)
    if (LINK_KINDS[kind].canLoop && to !== null) append(targets, holder, to);
  yield;
  const loops = findLoops(targets);
  yield;
  for (const link of links) {
    const loop = LINK_KINDS[link.kind].canLoop && link.to !== null ? loops.get(link.holder) : undefined;
    if (!loop?.includes(link.to!)) continue;
    link.state = 'loop';
    link.reason =
      loop.length === 1
        ? 'The file refers to itself.'
        : `The files place each other: ${[...loop].sort().join(', ')}.`;
  }

  // 4. Both directions.
  return {
    files,
    links,
    uses: groupBy(links, ({ holder }) => holder),
    usedBy: groupBy(
      links.filter(({ to }) => to !== null),
      ({ to }) => to!,
    ),
    loops,
    attached: attachedIn(files.get(MANIFEST_NAME), links),
    searchFolders: options.searchFolders ?? [],
  };
}

/** What a manifest attaches to what, by the paths at which both were found. */
function attachedIn(
  manifest: ScannedFile | undefined,
  links: readonly ProjectLink[],
): Map<string, Attachment[]> {
  const found = new Map<string, Attachment[]>();
  const attachments = manifest?.scan.attached ?? [];
  if (attachments.length === 0) return found;
  const listed = new Map(
    links.flatMap(({ holder, kind, written, to }) =>
      holder === MANIFEST_NAME && kind === 'listed' ? [[written, to] as const] : [],
    ),
  );
  for (const attachment of attachments) {
    const [file, to] = [listed.get(attachment.file), listed.get(attachment.to)];
    if (file && to) append(found, to, { ...attachment, file, to });
  }
  return found;
}

/** How often the file places each of its products, all levels of its own structure multiplied. What stands in a circle counts as far as it is reached. */
function countPlacings({ products }: ContentScan): Map<number, number> {
  const waitingFor = new Map<number, number>();
  for (const { occurrences } of products)
    for (const { child } of occurrences) waitingFor.set(child, (waitingFor.get(child) ?? 0) + 1);
  if (waitingFor.size === 0) return waitingFor;
  const byDefinition = new Map(products.map((product) => [product.definition, product]));
  const placings = new Map<number, number>();
  const ready = products.filter(({ definition }) => !waitingFor.has(definition));
  for (const { definition, occurrences } of ready) {
    // What nothing places is there once.
    const times = placings.get(definition) ?? 1;
    for (const { child } of occurrences) {
      placings.set(child, (placings.get(child) ?? 0) + times);
      const left = waitingFor.get(child)! - 1;
      waitingFor.set(child, left);
      const product = left === 0 ? byDefinition.get(child) : undefined;
      if (product) ready.push(product);
    }
  }
  return placings;
}

/** Assemblies that nothing places. A drawing or a note may refer to them, and what came out of them. */
export function rootsOf(project: Project): string[] {
  const isPlaced = (path: string) =>
    (project.usedBy.get(path) ?? []).some(({ kind }) => LINK_KINDS[kind].places);
  return [...project.files.values()]
    .filter(({ path, scan }) => scan.role === 'assembly' && !isPlaced(path) && !standsForOther(project, path))
    .map(({ path }) => path);
}

/** How files came about that stand for others, being no designs of their own; and whether they can take their places. */
const STANDS_FOR: { readonly [relation: string]: { takesPlace: boolean } } = {
  lite: { takesPlace: true },
  groups: { takesPlace: false },
};

/** Whether what a link leads to is an original, whose place the holder can take. */
export function canTakePlaceBy({ source }: Pick<ProjectLink, 'source'>): boolean {
  return source !== undefined && STANDS_FOR[source.relation]?.takesPlace === true;
}

/** Whether a file can take the place of another that it was made from, by what it says itself or by the manifest. */
export function canTakePlace(project: Project, path: string): boolean {
  if (path === MANIFEST_NAME) return false;
  return (project.uses.get(path) ?? []).some(canTakePlaceBy) || isMadeForOutside(project, path);
}

/** Whether others were made from a file that can take its place. */
export function hasStandIns(project: Project, path: string): boolean {
  return (project.usedBy.get(path) ?? []).some(canTakePlaceBy);
}

/** Whether a file was made from another that it stands for, by what it says itself or by the manifest. */
export function standsForOther(project: Project, path: string): boolean {
  return (
    (project.uses.get(path) ?? []).some(({ source }) => source && source.relation in STANDS_FOR) ||
    isMadeForOutside(project, path)
  );
}

/** Whether the manifest lists a file as made for strangers. */
export function isMadeForOutside(project: Project, path: string): boolean {
  return (project.usedBy.get(path) ?? []).some(
    ({ holder, kind }) => kind === 'attachment' && holder === MANIFEST_NAME,
  );
}

/** Assemblies to start from: those that nothing refers to, else any assembly, else any part. */
export function startingPoints(project: Project): string[] {
  const roots = rootsOf(project);
  if (roots.length > 0) return roots;
  const parts = [...project.files.values()].filter(
    ({ scan: { role, error } }) => (role === 'part' || role === 'assembly') && !error,
  );
  const assemblies = parts.filter(({ scan }) => scan.role === 'assembly');
  return (assemblies.length > 0 ? assemblies : parts).map(({ path }) => path);
}

/** The file that another one is a lite model of, by what that says itself; null for any other file. */
export function originalOf(project: Project, path: string): string | null {
  const tie = (project.uses.get(path) ?? []).find(
    ({ source }) => source?.recipe && source.relation in STANDS_FOR,
  );
  return tie?.to ?? null;
}

/** Every file that belongs to what the roots need: that itself, what it came out of, and the papers about it. The rest is left over. */
export function belongingFiles(project: Project): Set<string> {
  const found = new Set(reachableFrom(project, rootsOf(project)));
  if (project.files.has(MANIFEST_NAME)) found.add(MANIFEST_NAME);
  for (const path of project.files.keys()) if (standsForOther(project, path)) found.add(path);
  for (const path of found) {
    for (const { holder, kind } of project.usedBy.get(path) ?? [])
      if (LINK_KINDS[kind].isAbout) found.add(holder);
    for (const { to, kind } of project.uses.get(path) ?? [])
      if (to !== null && LINK_KINDS[kind].uses) found.add(to);
    for (const { file } of project.attached.get(path) ?? []) found.add(file);
  }
  return found;
}

/** Every file that the given ones need, themselves included, in the order in which they are met. */
function reachableFrom(project: Project, starts: readonly string[]): string[] {
  return reached(project, starts, () => true);
}

/** Every file that the given ones place, themselves included. */
export function placedBelow(project: Project, starts: readonly string[]): string[] {
  return reached(project, starts, (kind) => LINK_KINDS[kind].places);
}

/** A file and all that place it, directly or through others: what must not come to stand below it. */
export function placedAbove(project: Project, path: string): Set<string> {
  const found = new Set([path]);
  for (const below of found)
    for (const { holder, kind } of project.usedBy.get(below) ?? [])
      if (LINK_KINDS[kind].places) found.add(holder);
  return found;
}

function reached(
  project: Project,
  starts: readonly string[],
  follows: (kind: LinkKind) => boolean,
): string[] {
  const found = new Set(starts);
  for (const path of found)
    for (const { to, kind } of project.uses.get(path) ?? []) if (to !== null && follows(kind)) found.add(to);
  return [...found];
}
