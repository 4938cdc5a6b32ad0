import { z } from 'zod';
import type { FileSet } from '#core/change/file-set';
import {
  baseName,
  extensionOf,
  folderOf,
  foldPath,
  freePath,
  joinPath,
  pathProblem,
  stemOf,
} from '#core/links/paths';
import { isBroken } from '#core/links/resolve';
import { type Retarget, rewriteLinks } from '#core/links/rewrite';
import { Refusal } from '#core/refusal';
import { type Project, type ProjectLink, reachableFrom } from '#core/scan/project';

/** The engineer's choices for a package. */
export const HandOffOptions = z.object({
  /** The file that is handed over, with everything it needs. */
  root: z.string().min(1),
  flatten: z.boolean().default(false).describe('all files in one folder'),
  prefix: z.string().max(60).default('').describe('put before every name'),
  suffix: z.string().max(60).default('').describe('put after every name'),
  allowBroken: z.boolean().default(false).describe('pack although links are broken'),
});
export type HandOffOptions = z.infer<typeof HandOffOptions>;

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
 * Plans a package: the root, everything it reaches and nothing else, under names that are free of clashes and
 * usable on every system. Linear in files and links reached.
 * @throws Refusal when there is no such root or a prefix or suffix is not usable in names
 */
export function planHandOff(project: Project, options: HandOffOptions): HandOffPlan {
  // 1. What goes in.
  if (!project.files.has(options.root)) throw new Refusal(`There is no file ${options.root}.`);
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
  const reached = reachableFrom(project, [options.root]);

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
    const users = [
      ...new Set(
        (project.usedBy.get(path) ?? [])
          .filter(({ from }) => inside.has(from))
          .map(({ from }) => baseName(from)),
      ),
    ];
    const why =
      path === options.root
        ? 'The assembly itself'
        : `Used by ${users.slice(0, 2).join(' and ')}${users.length > 2 ? ` and ${users.length - 2} more` : ''}`;
    const retargets = (project.uses.get(path) ?? []).flatMap(({ to, kind, written }) =>
      to === null ? [] : [{ kind, written, to: inside.get(to)! }],
    );
    return { from: path, to: inside.get(path)!, why, bytes: file.bytes, sha256: file.sha256, retargets };
  });
  const broken = project.links.filter(({ from, state }) => inside.has(from) && isBroken(state));
  return { root: options.root, rootInside: inside.get(options.root)!, files, broken, notes };
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
