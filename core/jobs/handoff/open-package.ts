import { ArchiveError } from '#core/files/archive/read-zip';
import { isBroken } from '#core/files/links/resolve';
import type { NamedContent, NewContent } from '#core/project/change/change-set';
import { type Unpacked, unpackInMemory } from '#core/project/change/unpack';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { type ContentScan, scanContent } from '#core/project/scan/content';
import { type Project, resolveProject, type ScannedFile } from '#core/project/scan/project';
import { PACKAGE_LIST_NAME, PackageList } from './package-list';

/** The declaration of a bag, in a folder of its own or at the top (RFC 8493, 2.1.1). */
const DECLARATION = /^(?:[^/]+\/)?bagit\.txt$/;

/** Whether what came out of a zip is a package: a bag with a manifest that it can be held against. */
export function isPackage({ entries }: Unpacked): boolean {
  const paths = new Set(entries.map(({ path }) => path));
  return [...paths].some(
    (path) => DECLARATION.test(path) && paths.has(path.replace(/bagit\.txt$/, 'manifest-sha256.txt')),
  );
}

/** Something in a package that is not as it should be. */
export interface PackageProblem {
  path: string;
  problem: string;
}

/** Whether what arrived is not what was packed, so that nothing of it should be taken. */
export function isDamaged({ problems }: OpenedPackage): boolean {
  return problems.some(({ problem }) => /checksum|manifest|verified/.test(problem));
}

/** A package, read and checked. */
export interface OpenedPackage {
  /** Name of the bag's folder in the zip. */
  name: string;
  /** Payload by path relative to `data/`, and how it is read. */
  payload: Map<string, NewContent>;
  read: Unpacked['read'];
  list: PackageList | null;
  /** The payload as a project of its own: what links say when nothing else is around. */
  project: Project;
  problems: PackageProblem[];
}

/**
 * Opens a package and checks it as RFC 8493, 3 wants a bag to be "complete" and "valid", and that every link inside is
 * sound. Findings are collected in `problems`; the rest goes on.
 * @param scansOf what contents say, by their paths; without it each is read
 * @throws ArchiveError when it is no zip, or no bag
 */
export async function openPackage(
  source: Buffer | string | Unpacked,
  scansOf?: (contents: readonly NamedContent[]) => Promise<ReadonlyMap<string, ContentScan>>,
): Promise<OpenedPackage> {
  // 1. Unpack.
  const problems: PackageProblem[] = [];
  const entries = new Map<string, NewContent>();
  const unpacked =
    typeof source === 'string' || Buffer.isBuffer(source) ? await unpackInMemory(source) : source;
  const { read } = unpacked;
  for (const { path, ...entry } of unpacked.entries) {
    if ('refused' in entry) problems.push({ path, problem: `Refused: ${entry.refused}.` });
    else if (entries.has(path)) problems.push({ path, problem: 'Is in the zip twice.' });
    else entries.set(path, entry);
  }
  const declaration = [...entries.keys()].find((path) => DECLARATION.test(path));
  if (declaration === undefined) throw new ArchiveError('This zip is no package: it has no bagit.txt.');
  const folder = declaration.slice(0, -'bagit.txt'.length);
  const inBag = (path: string) => entries.get(folder + path);
  const textOf = async (path: string) => {
    const content = inBag(path);
    return content && Buffer.from(await read(content)).toString('utf8');
  };

  // 2. Every payload and tag file against its manifest, and the manifests against the payload.
  if (
    !/^BagIt-Version: \d+\.\d+\s*\nTag-File-Character-Encoding: UTF-8/i.test((await textOf('bagit.txt'))!)
  ) {
    problems.push({ path: 'bagit.txt', problem: 'Is no BagIt declaration.' });
  }
  const listed = new Set<string>();
  for (const [name, required] of [
    ['manifest-sha256.txt', true],
    ['tagmanifest-sha256.txt', false],
  ] as const) {
    const manifest = await textOf(name);
    if (manifest === undefined && required)
      problems.push({ path: name, problem: 'Is missing, so nothing can be verified.' });
    for (const line of (manifest ?? '').split(/\r?\n/)) {
      if (line.trim() === '') continue;
      const match = /^([0-9a-fA-F]{64})\s+\*?(.+)$/.exec(line);
      if (!match) {
        problems.push({ path: name, problem: `Has a line that is no checksum: ${line.slice(0, 80)}` });
        continue;
      }
      const path = match[2]!.replace(/%0A/gi, '\n').replace(/%0D/gi, '\r').replace(/%25/g, '%');
      const content = inBag(path);
      listed.add(path);
      if (!content) problems.push({ path, problem: 'Is in the manifest but not in the package.' });
      else if (content.sha256 !== match[1]!.toLowerCase())
        problems.push({ path, problem: 'Its content does not match its checksum.' });
    }
  }
  const payload = new Map<string, NewContent>();
  for (const [path, content] of entries) {
    if (!path.startsWith(`${folder}data/`)) continue;
    const inside = path.slice(folder.length);
    if (!listed.has(inside))
      problems.push({ path: inside, problem: 'Is in the package but not in the manifest.' });
    payload.set(inside.slice('data/'.length), content);
  }

  // 3. The links inside.
  const named = [...payload].map(([path, content]) => ({ ...content, path }));
  const scans = await scansOf?.(named);
  const scanned: ScannedFile[] = [];
  for (const { content: _, ...file } of named) {
    const scan = scans?.get(file.path) ?? scanContent(file.path, await read(payload.get(file.path)!));
    scanned.push({ ...file, scan });
  }
  const project = resolveProject(scanned);
  // What a package takes along when it is asked only may have been left out on purpose.
  for (const link of project.links)
    if (isBroken(link.state) && LINK_KINDS[link.kind].packed === 'always')
      problems.push({
        path: `data/${link.holder}`,
        problem: `Link ${link.written} is ${link.state}. ${link.reason}`,
      });
  for (const { path, scan } of project.files.values())
    if (scan.error) problems.push({ path: `data/${path}`, problem: `Cannot be read. ${scan.error}` });

  return {
    name: folder.replace(/\/$/, ''),
    payload,
    read,
    list: readList(await textOf(PACKAGE_LIST_NAME), problems),
    project,
    problems,
  };
}

function readList(content: string | undefined, problems: PackageProblem[]): PackageList | null {
  if (!content) return null;
  try {
    return PackageList.parse(JSON.parse(content));
  } catch {
    problems.push({ path: PACKAGE_LIST_NAME, problem: 'Is not a list of this kind.' });
    return null;
  }
}
