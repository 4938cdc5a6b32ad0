import { LRUCache } from 'lru-cache';
import { baseName } from '#core/files/links/paths';
import type { Kernel } from '#core/geometry/shape/kernel';
import type { PlanContext, Progress } from '#core/planning';
import { Draft } from '#core/project/change/draft';
import { type FileSet, MissingFileError } from '#core/project/change/file-set';
import type { UnpackedEntry } from '#core/project/change/unpack';
import { type Project, resolveProject } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import type { LookContext } from '#core/report';
import { contentsByHash, getBlob, holdBlobs, putBlobs } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { measuredBodies, meshesOf } from '#server/jobs/shapes';
import type { Owner } from '#server/jobs/tasks';
import { ProjectFileSet } from '#server/projects/files/project-files';
import { unpackStored } from '#server/projects/files/unpack-stored';
import { receivedIn } from '#server/projects/files/uploads';
import { isUntouched } from '#server/projects/life/restore';
import { filesBefore } from '#server/projects/scan/moments';
import { loadProject, scanKey, scanStored, scansOf } from '#server/projects/scan/project-scan';

/**
 * What was made for plans and may be asked for again: typing a name neither reads nor searches anything twice. A lite model has two of them for
 * each of its files; what nobody asks for any more is let go.
 */
const remembered = new LRUCache<string, Promise<unknown> & object>({
  max: 200,
  ttl: 15 * 60_000,
  updateAgeOnGet: true,
});
const rememberedLarge = new LRUCache<string, Promise<unknown> & object>({ max: 2 });

/** What planning in a request has instead of a kernel. */
const NO_KERNEL: Kernel = new Proxy({} as Kernel, {
  get() {
    throw new Error('A quick operation asks nothing of the kernel.');
  },
});

/** Whose plan it is, and what it may use. */
export interface PlanRequest extends Owner {
  db: Database;
  kernel?: Kernel;
  signal?: AbortSignal;
  report?: Progress;
  /** Nothing will be applied: what changes is enough, without the bytes. */
  isSketch?: boolean;
}

/**
 * What an operation has to work with in a project, and the files that its change is applied to.
 * @returns also the contents that planning has stored, by their hashes: nothing holds them until they are applied
 */
export async function contextFor({
  db,
  project: projectId,
  user,
  session,
  kernel = NO_KERNEL,
  signal = new AbortController().signal,
  report = async () => {},
  isSketch = false,
}: PlanRequest): Promise<{ context: PlanContext; files: ProjectFileSet; stored: ReadonlySet<string> }> {
  const stored = new Set<string>();
  const files = new ProjectFileSet(db, projectId, user, session);
  const project = await loadProject(db, projectId);
  const olderVersion = async (path: string, sha256: string) => {
    const isHere = await db('blobs').where('sha256', sha256).first('sha256');
    if (!isHere) return undefined;
    return { scan: await scanStored(db, path, sha256), measured: await measuredBodies(db, sha256) };
  };
  const remember = async <Made>(key: string, make: () => Promise<Made>, isLarge = false): Promise<Made> => {
    const kept = isLarge ? rememberedLarge : remembered;
    const whole = `${projectId} ${key}`;
    let made = kept.get(whole) as Promise<Made> | undefined;
    if (!made) {
      made = make();
      kept.set(whole, made);
      made.catch(() => kept.delete(whole));
    }
    return made;
  };
  const context: PlanContext = {
    project,
    draft: new Draft(asScanned(db, project), project, { stored: (sha256) => getBlob(db, sha256), isSketch }),
    now: new Date(),
    progress: report,
    kernel,
    signal,
    measured: (path) => prepared(project, path, (sha256) => measuredBodies(db, sha256)),
    meshes: (path) => prepared(project, path, (sha256) => meshesOf(db, sha256)),
    olderVersion,
    inverseOf: (which) => files.planUndo(which),
    isUntouched: await isUntouched(db, projectId, user),
    received: (upload) => receivedIn(db, { project: projectId, user, upload }),
    unpacked: async ({ sha256 }) => {
      let entries = await remember(`zip ${sha256}`, () => unpackStored(db, sha256));
      if (!(await holdBlobs(db, hashesIn(entries)))) entries = await unpackStored(db, sha256);
      for (const hash of hashesIn(entries)) stored.add(hash);
      return { entries, read: (content) => getBlob(db, content.sha256) };
    },
    scansOf: async (contents) => {
      await putBlobs(db, contentsByHash(contents));
      for (const { sha256 } of contents) stored.add(sha256);
      const scans = await scansOf(db, contents, (path, done, of) =>
        report(`Reading ${baseName(path)}`, done, of),
      );
      return new Map(contents.map(({ path, sha256 }) => [path, scans.get(scanKey(sha256, path))!]));
    },
    remember,
  };
  return { context, files, stored };
}

/** The files as they were scanned: contents and what is known of them are of one state, whatever others change meanwhile. */
function asScanned(db: Database, project: Project): Pick<FileSet, 'read'> {
  return {
    async read(path) {
      const file = project.files.get(path);
      if (!file) throw new MissingFileError(path);
      return getBlob(db, file.sha256);
    },
  };
}

/** What the job worker has found out about a file. @throws Refusal while it is still at it */
async function prepared<Made>(
  project: Project,
  path: string,
  find: (sha256: string) => Promise<Made | undefined>,
): Promise<Made> {
  const file = project.files.get(path);
  if (!file) throw new Refusal(`There is no file ${path}.`);
  const found = await find(file.sha256);
  if (!found) throw new Refusal(`The shapes of ${path} are still being prepared. Wait until they are there.`);
  return found;
}

function hashesIn(entries: readonly UnpackedEntry[]): string[] {
  return entries.flatMap((entry) => ('refused' in entry ? [] : entry.sha256));
}

/** What a report has to work with in a project. */
export async function lookContextFor({
  db,
  project: projectId,
  user,
  signal = new AbortController().signal,
  report: progress = async () => {},
}: PlanRequest): Promise<LookContext> {
  const files = new ProjectFileSet(db, projectId, user);
  const project = await loadProject(db, projectId);
  return {
    files,
    project: async (searchFolders) =>
      searchFolders === undefined ? project : resolveProject(project.files.values(), { searchFolders }),
    measured: (path) => prepared(project, path, (sha256) => measuredBodies(db, sha256)),
    meshes: (path) => prepared(project, path, (sha256) => meshesOf(db, sha256)),
    unpacked: async (upload) => {
      const [zip, ...more] = await receivedIn(db, { project: projectId, user, upload });
      if (!zip || more.length > 0) throw new Refusal('Send one zip to be looked at.');
      const entries = await unpackStored(db, zip.sha256);
      return { entries, read: (content) => getBlob(db, content.sha256) };
    },
    history: () => files.history(),
    moment: async (change) => ({ files: await filesBefore(db, projectId, change) }),
    progress,
    signal,
  };
}
