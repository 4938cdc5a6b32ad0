import { LRUCache } from 'lru-cache';
import { extensionOf } from '#core/files/links/paths';
import { isBroken } from '#core/files/links/resolve';
import { scanVersion } from '#core/project/formats/formats';
import { type ContentScan, ownProducts, scanContent } from '#core/project/scan/content';
import { type Project, resolveSteps, type ScannedFile } from '#core/project/scan/project';
import { getBlobs } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { storedJson, storedText } from '#server/db/stored-text';
import { inTurns, resting } from '#server/in-turns';
import { rememberHealth } from './health';

/** Projects resolved before, by id; a project that changed has another revision. */
const cache = new LRUCache<string, { revision: number; project: Project }>({ max: 12 });

/** Projects that are being resolved: who asks meanwhile waits for the same one. */
const underWay = new Map<string, Promise<Project>>();

/**
 * The project as scanned and resolved at its newest revision. Contents that were never scanned are scanned now and
 * remembered by hash, so that opening a project reads no file.
 */
export async function loadProject(db: Database, projectId: string): Promise<Project> {
  const row = await db('projects').where('id', projectId).first('revision', 'search_folders');
  const revision = Number(row.revision);
  const cached = cache.get(projectId);
  if (cached?.revision === revision) return cached.project;
  const key = `${projectId} ${revision}`;
  const before = underWay.get(key);
  if (before) return before;
  const resolved = resolveStored(db, projectId, revision, row.search_folders).finally(() =>
    underWay.delete(key),
  );
  underWay.set(key, resolved);
  return resolved;
}

async function resolveStored(
  db: Database,
  projectId: string,
  revision: number,
  searchFolders: string[],
): Promise<Project> {
  const files: { path: string; bytes: string; sha256: string }[] = await db('files')
    .where('project_id', projectId)
    .select('path', 'bytes', 'sha256');
  // A change leaves most contents as they were: what an older revision has of them is not fetched again.
  const older = cache.get(projectId)?.project;
  const known = new Map<string, ContentScan>();
  for (const { path, sha256, scan } of older?.files.values() ?? []) known.set(scanKey(sha256, path), scan);
  const scans = await scansOf(
    db,
    files.filter(({ path, sha256 }) => !known.has(scanKey(sha256, path))),
  );
  const scanned: ScannedFile[] = files.map(({ path, bytes, sha256 }) => {
    const key = scanKey(sha256, path);
    return { path, bytes: Number(bytes), sha256, scan: (known.get(key) ?? scans.get(key))! };
  });
  const project = await inTurns(resolveSteps(scanned, { searchFolders }));
  await rememberTargets(db, projectId, project, older);
  await rememberHealth(db, projectId, revision, project.links);
  cache.set(projectId, { revision, project });
  return project;
}

/** Scans one content, or gives the scan that was made of it before. */
export async function scanStored(db: Database, path: string, sha256: string): Promise<ContentScan> {
  return (await scansOf(db, [{ path, sha256 }])).get(scanKey(sha256, path))!;
}

/** So many contents are read, and their scans written, together; fewer where they are large. */
const [CONTENTS, BYTES] = [200, 16 * 1024 * 1024];

/**
 * The scans of contents, by hash and extension. Those that were never made are made now and remembered.
 * @param onScanned told before each that is made
 */
export async function scansOf(
  db: Database,
  files: readonly { path: string; sha256: string }[],
  onScanned: (path: string, done: number, of: number) => Promise<void> = async () => {},
): Promise<Map<string, ContentScan>> {
  const scans = new Map<string, ContentScan>();
  const hashes = [...new Set(files.map(({ sha256 }) => sha256))];
  const extensions = [...new Set(files.map(({ path }) => extensionOf(path)))];
  // Scans of earlier versions stay in the table: they are not fetched.
  const rows = await db('scans')
    .whereRaw('sha256 = any(?)', [hashes])
    .whereRaw('(extension, version) in (select * from unnest(?::text[], ?::int[]))', [
      extensions,
      extensions.map(scanVersion),
    ])
    .select('sha256', 'extension', 'scan');
  for (const { sha256, extension, scan } of rows) scans.set(`${sha256}.${extension}`, scan);
  const missing = new Map(
    files.flatMap((file) => {
      const name = scanKey(file.sha256, file.path);
      return scans.has(name) ? [] : [[name, file] as const];
    }),
  );
  let done = 0;
  const rest = resting();
  for await (const batch of batchesOf(db, [...missing.values()])) {
    const made = [];
    for (const { path, sha256, content } of batch) {
      await onScanned(path, done++, missing.size);
      await rest();
      const scan = scanContent(path, content);
      scans.set(scanKey(sha256, path), scan);
      const extension = extensionOf(path);
      made.push({
        ...{ sha256, extension, version: scanVersion(extension) },
        scan: storedJson(scan),
        words: storedText(wordsOf(scan)),
      });
    }
    await db('scans').insert(made).onConflict().ignore();
  }
  return scans;
}

/** Letters that a content is found by; one with more is found by the first. */
const MOST_LETTERS = 100_000;

/** What a content is found by: names, ids and materials of its products, and the names of its components. */
function wordsOf(scan: ContentScan): string {
  const words = new Set<string>();
  for (const { id, name, material = '' } of ownProducts(scan)) words.add(id).add(name).add(material);
  for (const { occurrences } of scan.products) for (const { name } of occurrences) words.add(name);
  return [...words].join('\n').slice(0, MOST_LETTERS);
}

/** Contents in batches that fit into memory. */
async function* batchesOf(db: Database, files: readonly { path: string; sha256: string }[]) {
  const sizes: { sha256: string; bytes: string }[] = await db('blobs')
    .whereRaw('sha256 = any(?)', [files.map(({ sha256 }) => sha256)])
    .select('sha256', 'bytes');
  const bytesOf = new Map(sizes.map(({ sha256, bytes }) => [sha256, Number(bytes)]));
  let batch: { path: string; sha256: string }[] = [];
  let size = 0;
  const read = async () => {
    const contents = await getBlobs(db, [...new Set(batch.map(({ sha256 }) => sha256))]);
    return batch.map((file) => ({ ...file, content: contents.get(file.sha256)! }));
  };
  for (const file of files) {
    const bytes = bytesOf.get(file.sha256) ?? 0;
    if (batch.length > 0 && (batch.length >= CONTENTS || size + bytes > BYTES)) {
      yield await read();
      batch = [];
      size = 0;
    }
    batch.push(file);
    size += bytes;
  }
  if (batch.length > 0) yield await read();
}

/** The name of a content's scan: an ending may mean another format. */
export const scanKey = (sha256: string, path: string) => `${sha256}.${extensionOf(path)}`;

/**
 * What each sound link leads to now is the best evidence for the day on which it breaks. Only what is new is written.
 * @param older the project at a revision whose targets are remembered already
 */
async function rememberTargets(
  db: Database,
  projectId: string,
  project: Project,
  older: Project | undefined,
): Promise<void> {
  const known: LastTarget[] = older
    ? [...targetsOf(older)]
    : await db('last_targets')
        .where('project_id', projectId)
        .select('holder', 'kind', 'written', 'path', 'sha256');
  const remembered = new Map(known.map((row) => [nameOfLink(row), `${row.sha256} ${row.path}`]));
  const rows = [...targetsOf(project)].filter(
    (row) => remembered.get(nameOfLink(row)) !== `${row.sha256} ${row.path}`,
  );
  for (let at = 0; at < rows.length; at += 500)
    await db('last_targets')
      .insert(rows.slice(at, at + 500).map((row) => ({ project_id: projectId, ...row })))
      .onConflict(['project_id', 'holder', 'kind', 'written'])
      .merge();
}

/** What the links that are not broken lead to. */
function* targetsOf({ links, files }: Project): Iterable<LastTarget> {
  for (const { state, holder, kind, written, to } of links)
    if (!isBroken(state)) yield { holder, kind, written, path: to!, sha256: files.get(to!)!.sha256 };
}

/** What a link led to when it was last sound. */
interface LastTarget {
  holder: string;
  kind: string;
  written: string;
  path: string;
  sha256: string;
}

function nameOfLink({ holder, kind, written }: Pick<LastTarget, 'holder' | 'kind' | 'written'>): string {
  return `${kind}\0${holder}\0${written}`;
}
