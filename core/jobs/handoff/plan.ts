import {
  baseName,
  extensionOf,
  folderOf,
  foldPath,
  freePath,
  joinPath,
  pathProblem,
  stemOf,
} from '#core/files/links/paths';
import { isBroken } from '#core/files/links/resolve';
import { append } from '#core/multimap';
import { onceFor } from '#core/once';
import type { FileSet } from '#core/project/change/file-set';
import { rewriteLinks } from '#core/project/formats/formats';
import { LINK_KINDS, type LinkKind } from '#core/project/formats/kinds';
import type { Retarget } from '#core/project/formats/link-format';
import type { Project, ProjectLink } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import type { HandOffChoices } from './choices';

/** One file of a package: where it comes from, its path inside, and why it is in. */
export interface PackagedFile {
  from: string;
  to: string;
  why: string;
  bytes: number;
  sha256: string;
  /** Links whose text changes because files lie or are named differently inside. */
  retargets: Retarget[];
}

/** What a package will hold. Made without reading any content. */
export interface HandOffPlan {
  root: string;
  /** Path of the root inside the package. */
  rootInside: string;
  files: PackagedFile[];
  broken: ProjectLink[];
  /** Names that could not be kept, in words. */
  notes: string[];
}

/**
 * Plans a package: the root and what was chosen besides, everything they reach and nothing else, under names that are free of clashes and
 * usable on every system. Linear in files and links reached.
 * @throws Refusal when there is no such root or a prefix or suffix is not usable in names
 */
export function planHandOff(project: Project, options: HandOffChoices): HandOffPlan {
  // 1. What goes in.
  const chosen = new Set([options.root, ...options.also]);
  for (const path of chosen) {
    const file = project.files.get(path);
    if (!file) throw new Refusal(`There is no file ${path}.`);
    if (file.scan.error !== null)
      throw new Refusal(`${path} cannot be read, so nobody knows what it needs: ${file.scan.error}`);
  }
  for (const [what, text] of [
    ['prefix', options.prefix],
    ['suffix', options.suffix],
  ] as const) {
    const problem =
      text === ''
        ? undefined
        : (pathProblem(`a${text}a`, true) ?? (text.includes('/') ? 'it holds a /' : undefined));
    if (problem) throw new Refusal(`The ${what} cannot be used: ${problem}.`);
  }
  const reached = packedFiles(project, chosen, options);

  // 2. Names inside.
  const notes: string[] = [];
  const base = commonFolder(reached);
  const inside = new Map<string, string>();
  const taken = new Set<string>();
  for (const path of reached) {
    const name = `${options.prefix}${safeName(stemOf(path))}${options.suffix}`;
    const folder = options.flatten ? '' : safeFolder(folderOf(path).slice(base.length).replace(/^\//, ''));
    const extension = extensionOf(path) === '' ? '' : `.${baseName(path).split('.').at(-1)}`;
    const to = freePath(joinPath(folder, name + extension), (other) => taken.has(foldPath(other)));
    if (to !== joinPath(folder, name + extension))
      notes.push(`${path} is named ${baseName(to)}: ${name}${extension} was taken.`);
    taken.add(foldPath(to));
    inside.set(path, to);
  }

  // 3. Why each file is in, and which of its links have to be written anew.
  const files = reached.map((path): PackagedFile => {
    const file = project.files.get(path)!;
    const why =
      path === options.root
        ? `The ${file.scan.role === 'assembly' ? 'assembly' : 'file'} itself`
        : chosen.has(path)
          ? 'Chosen besides'
          : whyPacked(project, path, inside);
    const retargets = (project.uses.get(path) ?? []).flatMap(({ to, kind, written }) => {
      const there = to === null ? undefined : inside.get(to);
      return there === undefined ? [] : [{ kind, written, to: there }];
    });
    return { from: path, to: inside.get(path)!, why, bytes: file.bytes, sha256: file.sha256, retargets };
  });
  notes.push(...leftOut(project, inside));
  const broken = project.links.filter(({ holder, state }) => inside.has(holder) && isBroken(state));
  return { root: options.root, rootInside: inside.get(options.root)!, files, broken, notes };
}

/** What was chosen, what that needs and what was asked for, in the order in which it is met. */
function packedFiles(
  project: Project,
  chosen: ReadonlySet<string>,
  { drawings, sources, attachments }: HandOffChoices,
): string[] {
  const asked: { [kind in LinkKind]?: boolean } = {
    source: sources,
    context: sources,
    attachment: attachments,
  };
  const found = new Set(chosen);
  for (const path of found) {
    for (const { to, kind } of project.uses.get(path) ?? []) {
      const { packed, isAbout } = LINK_KINDS[kind];
      // A paper that is handed over itself needs what it is about.
      const isWanted = packed === 'always' || asked[kind] || (isAbout && chosen.has(path));
      if (to !== null && isWanted) found.add(to);
    }
    if (attachments) for (const { file } of project.attached.get(path) ?? []) found.add(file);
    if (!drawings) continue;
    for (const { holder, kind } of project.usedBy.get(path) ?? [])
      if (LINK_KINDS[kind].isAbout) found.add(holder);
  }
  return [...found];
}

/** The models that files are attached to, by the file. */
const attachedTo = onceFor((project: Project): ReadonlyMap<string, string[]> => {
  const models = new Map<string, string[]>();
  for (const [model, attached] of project.attached)
    for (const { file } of attached) append(models, file, model);
  return models;
});

function whyPacked(project: Project, path: string, inside: ReadonlyMap<string, string>): string {
  const about = (project.uses.get(path) ?? []).filter(
    ({ kind, to }) => LINK_KINDS[kind].isAbout && to !== null && inside.has(to),
  );
  if (about.length > 0) return `Drawing of ${listed(about.map(({ to }) => to!))}`;
  const models =
    attachedTo(project)
      .get(path)
      ?.filter((model) => inside.has(model)) ?? [];
  if (models.length > 0) return `Attached to ${listed(models)}`;
  const users = (project.usedBy.get(path) ?? []).filter(
    ({ holder, kind }) => inside.has(holder) && !LINK_KINDS[kind].isAbout,
  );
  const isSource = users.length > 0 && users.every(({ kind }) => kind === 'source');
  return `${isSource ? 'Source of' : 'Used by'} ${listed(users.map(({ holder }) => holder))}`;
}

function listed(paths: readonly string[]): string {
  const names = [...new Set(paths.map(baseName))];
  return `${names.slice(0, 2).join(' and ')}${names.length > 2 ? ` and ${names.length - 2} more` : ''}`;
}

/** What packed files lead to and is not packed, in words. */
function leftOut(project: Project, inside: ReadonlyMap<string, string>): string[] {
  const holders = new Map<string, string[]>();
  for (const path of inside.keys())
    for (const { to } of project.uses.get(path) ?? [])
      if (to !== null && !inside.has(to)) append(holders, to, path);
  return [...holders].map(
    ([to, from]) => `${to} stays here; ${listed(from)} still ${from.length === 1 ? 'names' : 'name'} it.`,
  );
}

/** The bytes of one packaged file, its links pointing at the names inside. Unchanged when nothing needs to change. */
export async function packagedContent(files: FileSet, file: PackagedFile): Promise<Uint8Array> {
  const bytes = await files.read(file.from);
  if (file.retargets.length === 0) return bytes;
  return rewriteLinks(bytes, file.to, file.retargets).bytes;
}

/** Leading folders that all files share are left out of the package. */
function commonFolder(paths: readonly string[]): string {
  const [first = [], ...rest] = paths.map((path) => (folderOf(path) === '' ? [] : folderOf(path).split('/')));
  let shared = first.length;
  for (const folders of rest) {
    let n = 0;
    while (n < shared && folders[n] === first[n]) n++;
    shared = n;
  }
  return first.slice(0, shared).join('/');
}

function safeFolder(folder: string): string {
  return folder === '' ? '' : folder.split('/').map(safeName).join('/');
}

function safeName(name: string): string {
  const cleaned = name.replace(/[<>:"|?*\\\u0000-\u001f\u007f]/g, '_').replace(/[. ]+$/, '');
  const short =
    Buffer.byteLength(cleaned) > 180
      ? Buffer.from(cleaned)
          .subarray(0, 180)
          .toString('utf8')
          .replace(/\uFFFD$/, '')
      : cleaned;
  return pathProblem(short || '_', true) ? `_${short}` : short;
}
