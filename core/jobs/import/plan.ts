import {
  baseName,
  commonTopFolder,
  extensionOf,
  folderOf,
  foldPath,
  joinPath,
  pathProblem,
} from '#core/files/links/paths';
import type { OnConflict } from '#core/jobs/handoff/on-conflict';
import { isDamaged, isPackage, openPackage } from '#core/jobs/handoff/open-package';
import { planUnpack } from '#core/jobs/handoff/unpack';
import type { PlanContext } from '#core/planning';
import type { ChangeSet, NewContent } from '#core/project/change/change-set';
import type { ProjectExport } from '#core/project/change/project-export';
import { manifestOn } from '#core/project/change/project-manifest';
import type { ReceivedFile } from '#core/project/change/received-file';
import type { UnpackedEntry } from '#core/project/change/unpack';
import { MANIFEST_NAME } from '#core/project/formats/manifest';
import { mergedManifests } from '#core/project/formats/merge-manifests';
import { Refusal } from '#core/refusal';
import { type LinksAfter, linksAfter } from './links-after';
import { openExport } from './open-export';

/** What an import does, for the person who started it. */
export interface ImportOutline {
  added: string[];
  replaced: string[];
  unchanged: number;
  conflicts: { path: string; outcome: string }[];
  /** What was left out or is not sound, and why. */
  problems: { path: string; problem: string }[];
  /** Packages and exported projects of which every file was held against its checksum. */
  verified: { path: string; files: number }[];
  /** What becomes of links. */
  links: LinksAfter;
  /** What an exported project holds besides its files; null where none arrived by itself. */
  history: ArrivingHistory | null;
}

/** The history of an exported project. */
export interface ArrivingHistory {
  /** ISO 8601. */
  exported: string;
  versions: number;
  changes: number;
  people: number;
  publications: number;
  /** Whether it comes along. It does into a project of one's own in which nothing was done yet, unless it is left out. */
  comes: boolean;
  /** Whether it could. */
  canCome: boolean;
}

/** What systems leave in folders and nobody means to import. */
const LITTER = /(^|\/)(\.DS_Store|Thumbs\.db|desktop\.ini|__MACOSX\/.*|\.stonetray\/.*|\.git\/.*|~\$.*)$/i;

/**
 * Plans to take in what arrived: archives are unpacked, packages and exported projects verified, names that are taken dealt with.
 * @throws Refusal when nothing arrived, or one of these is damaged
 */
export async function planImport(
  context: Pick<PlanContext, 'draft' | 'isUntouched' | 'progress' | 'project' | 'scansOf' | 'unpacked'>,
  {
    received,
    onConflict,
    withoutHistory = false,
  }: { received: readonly ReceivedFile[]; onConflict: OnConflict; withoutHistory?: boolean },
): Promise<{ change: ChangeSet; outline: ImportOutline; restores?: ProjectExport }> {
  const { draft, isUntouched, progress, project, scansOf, unpacked } = context;
  if (received.length === 0)
    throw new Refusal('What was sent is not here any more, or was empty. Send it again.');
  const manifest = await manifestOn(draft);
  const present = new Map((await draft.list()).map((entry) => [foldPath(entry.path), entry]));
  /** What this import has brought, by paths without regard to case and form. */
  const brought = new Set<string>();
  const outline: ImportOutline = {
    added: [],
    replaced: [],
    unchanged: 0,
    conflicts: [],
    problems: [],
    verified: [],
    links: { broken: [], mended: [], behind: 0 },
    history: null,
  };
  let restores: ProjectExport | undefined;
  const place = (written: string, content: NewContent, isComposed = false) => {
    // Some systems write `é` as an `e` and an accent; nothing would be found by its name.
    const path = written.normalize('NFC');
    if (LITTER.test(path)) return;
    const folded = foldPath(path);
    const there = present.get(folded);
    const isOtherwise = there !== undefined && there.path !== path;
    if (there?.sha256 === content.sha256 && !brought.has(folded)) {
      if (isOtherwise) outline.conflicts.push({ path, outcome: `is ${there.path}, written otherwise` });
      outline.unchanged++;
      return;
    }
    if (there && onConflict === 'keep') {
      const kept = isOtherwise ? `${there.path}, written otherwise, is kept` : 'kept';
      outline.conflicts.push({ path, outcome: `${kept} as it was` });
      return;
    }
    if (isComposed || path !== written)
      outline.conflicts.push({ path, outcome: 'letters of its name came in pieces and are whole here' });
    const trouble = pathProblem(path, true);
    if (trouble) outline.conflicts.push({ path, outcome: `taken as it is, but ${trouble}: rename it here` });
    // Names that differ in case or form only are one name on some systems.
    const isSecond = brought.has(folded) || (there !== undefined && onConflict === 'both');
    const target = isSecond ? draft.free(path) : (there?.path ?? path);
    if (isOtherwise && !isSecond)
      outline.conflicts.push({ path, outcome: `the new version of ${there.path}, written otherwise` });
    brought.add(folded);
    if (isSecond) outline.conflicts.push({ path, outcome: `kept; the new one is ${target}` });
    draft.put(target, content);
    (there && !isSecond ? outline.replaced : outline.added).push(target);
  };

  for (const [n, file] of received.entries()) {
    const { path, sha256, bytes, content } = file;
    const isZip = extensionOf(path) === 'zip';
    await progress(`${isZip ? 'Unpacking' : 'Reading'} ${baseName(path)}`, n, received.length);
    if (!isZip) {
      place(path, { sha256, bytes, content });
      continue;
    }
    const zip = await unpacked(file);
    if (isPackage(zip)) {
      const opened = await openPackage(zip, scansOf);
      outline.problems.push(...opened.problems);
      if (isDamaged(opened))
        throw new Refusal(`${path} is damaged, so nothing of it was taken. Ask for it again.`);
      outline.verified.push({ path, files: opened.payload.size });
      const { laidOut, unchanged, conflicts } = await planUnpack({ draft }, { opened, into: '', onConflict });
      outline.unchanged += unchanged;
      outline.conflicts.push(...conflicts);
      for (const { path: target, replaces } of laidOut)
        (replaces ? outline.replaced : outline.added).push(target);
      continue;
    }
    const opened = await openExport(path, zip);
    if (opened) {
      const { files, exported } = opened;
      outline.verified.push({ path, files: files.length });
      // A history is of one project, as it lay.
      const isAlone = received.length === 1 && folderOf(path) === '';
      if (isAlone && isUntouched && !withoutHistory) restores = exported;
      if (isAlone)
        outline.history = {
          exported: exported.exported,
          versions: exported.versions.length,
          changes: exported.changes.length,
          people: exported.members.length,
          publications: exported.publications.length,
          comes: restores !== undefined,
          canCome: isUntouched,
        };
      for (const { path: inside, ...content } of files) place(joinPath(folderOf(path), inside), content);
      continue;
    }
    const entries: Exclude<UnpackedEntry, { refused: string }>[] = [];
    for (const entry of zip.entries) {
      if ('refused' in entry)
        outline.problems.push({ path: entry.path, problem: `Left out: ${entry.refused}.` });
      else entries.push(entry);
    }
    // The folder that was packed is no part of the paths inside the project, just as one that is picked is none.
    const top = commonTopFolder(entries.map((entry) => entry.path).filter((entry) => !LITTER.test(entry)));
    // Where the project has that folder, it is meant.
    const into = folderOf(path);
    const isThere = top !== '' && draft.filesIn(joinPath(into, top.slice(0, -1))).length > 0;
    for (const { path: inside, isComposed, ...entry } of entries)
      if (inside.startsWith(top))
        place(joinPath(into, isThere ? inside : inside.slice(top.length)), entry, isComposed);
  }
  if (manifest && outline.replaced.includes(MANIFEST_NAME)) await mergeManifest(draft, manifest, outline);
  const what = received.length === 1 ? received[0]!.path : `${received.length} files`;
  const change = await draft.finish(`Imported ${what}`);
  const written = change.changes.flatMap((change) => (change.action === 'write' ? [change] : []));
  const scans = await scansOf(written);
  const arrived = written.map(({ path, sha256, bytes }) => ({
    path,
    sha256,
    bytes,
    scan: scans.get(path)!,
  }));
  for (const { path, scan } of arrived)
    if (scan.error !== null) outline.problems.push({ path, problem: `Cannot be read. ${scan.error}` });
  const shown = { ...outline, links: linksAfter(project, arrived) };
  return { change, outline: shown, ...(restores && { restores }) };
}

/** Two manifests become one, entry by entry; where that cannot be, the one that is there stays. */
async function mergeManifest(
  draft: PlanContext['draft'],
  there: Uint8Array,
  outline: ImportOutline,
): Promise<void> {
  let outcome = 'entries of both are kept; what both have is as it arrives';
  try {
    draft.write(MANIFEST_NAME, mergedManifests(there, await draft.read(MANIFEST_NAME)));
  } catch (error) {
    if (!(error instanceof Error)) throw error;
    draft.write(MANIFEST_NAME, there);
    outcome = `kept as it was: ${error.message}`;
  }
  outline.conflicts.push({ path: MANIFEST_NAME, outcome });
}
