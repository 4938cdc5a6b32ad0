import { INPUT_LIMITS, type InputLimits } from '#core/archive/limits';
import { ArchiveError, readZip } from '#core/archive/read-zip';
import { sha256 } from '#core/change/file-set';
import { LINK_KINDS } from '#core/formats/kinds';
import { isBroken } from '#core/links/resolve';
import { scanContent } from '#core/scan/content';
import { type Project, resolveProject } from '#core/scan/project';
import { PACKAGE_LIST_NAME, PackageList } from './package-list';

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
  /** Payload by path relative to `data/`. */
  payload: Map<string, Buffer>;
  list: PackageList | null;
  /** The payload as a project of its own: what links say when nothing else is around. */
  project: Project;
  problems: PackageProblem[];
}

/**
 * Opens a package and checks it as RFC 8493, 3 wants a bag to be "complete" and "valid", and that every link inside is
 * sound. Findings are collected in `problems`; the rest goes on.
 * @throws ArchiveError when it is no zip, or no bag
 */
export async function openPackage(
  source: Buffer | string,
  limits: InputLimits = INPUT_LIMITS,
): Promise<OpenedPackage> {
  // 1. Unpack.
  const problems: PackageProblem[] = [];
  const entries = new Map<string, Buffer>();
  for await (const entry of readZip(source, limits)) {
    if ('refused' in entry) problems.push({ path: entry.path, problem: `Refused: ${entry.refused}.` });
    else if (entries.has(entry.path)) problems.push({ path: entry.path, problem: 'Is in the zip twice.' });
    else entries.set(entry.path, entry.content);
  }
  const declaration = [...entries.keys()].filter((path) => /^(?:[^/]+\/)?bagit\.txt$/.test(path))[0];
  if (declaration === undefined) throw new ArchiveError('This zip is no package: it has no bagit.txt.');
  const folder = declaration.slice(0, -'bagit.txt'.length);
  const inBag = (path: string) => entries.get(folder + path);

  // 2. Every payload and tag file against its manifest, and the manifests against the payload.
  if (
    !/^BagIt-Version: \d+\.\d+\s*\nTag-File-Character-Encoding: UTF-8/i.test(
      inBag('bagit.txt')!.toString('utf8'),
    )
  ) {
    problems.push({ path: 'bagit.txt', problem: 'Is no BagIt declaration.' });
  }
  const listed = new Set<string>();
  for (const [name, required] of [
    ['manifest-sha256.txt', true],
    ['tagmanifest-sha256.txt', false],
  ] as const) {
    const manifest = inBag(name)?.toString('utf8');
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
      else if (sha256(content) !== match[1]!.toLowerCase())
        problems.push({ path, problem: 'Its content does not match its checksum.' });
    }
  }
  const payload = new Map<string, Buffer>();
  for (const [path, content] of entries) {
    if (!path.startsWith(`${folder}data/`)) continue;
    const inside = path.slice(folder.length);
    if (!listed.has(inside))
      problems.push({ path: inside, problem: 'Is in the package but not in the manifest.' });
    payload.set(inside.slice('data/'.length), content);
  }

  // 3. The links inside.
  const project = resolveProject(
    [...payload].map(([path, content]) => ({
      path,
      bytes: content.length,
      sha256: sha256(content),
      scan: scanContent(path, content),
    })),
  );
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
    list: readList(inBag(PACKAGE_LIST_NAME), problems),
    project,
    problems,
  };
}

function readList(content: Buffer | undefined, problems: PackageProblem[]): PackageList | null {
  if (!content) return null;
  try {
    return PackageList.parse(JSON.parse(content.toString('utf8')));
  } catch {
    problems.push({ path: PACKAGE_LIST_NAME, problem: 'Is not a list of this kind.' });
    return null;
  }
}
