import { extensionOf } from '#core/links/paths';
import { isBroken } from '#core/links/resolve';
import { type ContentScan, SCAN_VERSION, scanContent } from '#core/scan/content';
import { type Project, resolveProject, type ScannedFile } from '#core/scan/project';
import { getBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';

/** Projects resolved before, by id; a project that changed has another revision. */
const cache = new Map<string, { revision: number; project: Project }>();
const MOST_CACHED = 12;

/**
 * The project as scanned and resolved at its newest revision. Contents that were never scanned are scanned now and
 * remembered by hash, so that opening a project reads no file.
 */
export async function loadProject(db: Database, projectId: string): Promise<Project> {
  const row = await db('projects').where('id', projectId).first('revision', 'search_folders');
  const revision = Number(row.revision);
  const cached = cache.get(projectId);
  if (cached?.revision === revision) return cached.project;

  const files: { path: string; bytes: string; sha256: string }[] = await db('files')
    .where('project_id', projectId)
    .select('path', 'bytes', 'sha256');
  const scans = await scansOf(db, files);
  const scanned: ScannedFile[] = files.map(({ path, bytes, sha256 }) => ({
    path,
    bytes: Number(bytes),
    sha256,
    scan: scans.get(key(sha256, path))!,
  }));
  const project = resolveProject(scanned, { searchFolders: row.search_folders });
  await rememberTargets(db, projectId, project);
  cache.delete(projectId);
  cache.set(projectId, { revision, project });
  if (cache.size > MOST_CACHED) cache.delete(cache.keys().next().value!);
  return project;
}

/** Scans one content, or gives the scan that was made of it before. */
export async function scanStored(db: Database, path: string, sha256: string): Promise<ContentScan> {
  const extension = extensionOf(path);
  const known = await db('scans').where({ sha256, extension, version: SCAN_VERSION }).first('scan');
  if (known) return known.scan as ContentScan;
  const scan = scanContent(path, await getBlob(db, sha256));
  // PostgreSQL's jsonb holds no NUL; nothing that a person named does either.
  const json = JSON.stringify(scan).replaceAll('\\u0000', '');
  await db('scans').insert({ sha256, extension, version: SCAN_VERSION, scan: json }).onConflict().ignore();
  return scan;
}

async function scansOf(
  db: Database,
  files: { path: string; sha256: string }[],
): Promise<Map<string, ContentScan>> {
  const scans = new Map<string, ContentScan>();
  const hashes = [...new Set(files.map(({ sha256 }) => sha256))];
  const rows = await db('scans')
    .whereIn('sha256', hashes)
    .where('version', SCAN_VERSION)
    .select('sha256', 'extension', 'scan');
  for (const { sha256, extension, scan } of rows) scans.set(`${sha256}.${extension}`, scan);
  for (const { path, sha256 } of files)
    if (!scans.has(key(sha256, path))) scans.set(key(sha256, path), await scanStored(db, path, sha256));
  return scans;
}

const key = (sha256: string, path: string) => `${sha256}.${extensionOf(path)}`;

/** What each sound link leads to now is the best evidence for the day on which it breaks. */
async function rememberTargets(db: Database, projectId: string, project: Project): Promise<void> {
  const rows = project.links
    .filter(({ state }) => !isBroken(state))
    .map(({ from, kind, written, to }) => ({
      project_id: projectId,
      holder: from,
      kind,
      written,
      path: to!,
      sha256: project.files.get(to!)!.sha256,
    }));
  for (let at = 0; at < rows.length; at += 500)
    await db('last_targets')
      .insert(rows.slice(at, at + 500))
      .onConflict(['project_id', 'holder', 'kind', 'written'])
      .merge();
}
