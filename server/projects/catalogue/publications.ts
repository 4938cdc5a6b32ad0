import { OFFERED_FORMATS, type OfferedFormat, type PublishChoices } from '#core/jobs/publish/choices';
import { type OutsideFile, outsideFiles } from '#core/jobs/publish/outside-files';
import type { PublishedFacts } from '#core/project/change/published-facts';
import { MANIFEST_NAME } from '#core/project/formats/manifest';
import type { Project } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import { holdAs } from '#server/auth/standing';
import { getBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { writeLog } from '#server/projects/projects';

/** A file in the catalogue. */
export interface Publication {
  id: string;
  token: string;
  path: string;
  sha256: string;
  title: string;
  facts: PublishedFacts;
  time: Date;
  withdrawn: Date | null;
  /** What it was made from, by the versions that were taken; null where that was not kept. */
  madeFrom: { path: string; sha256: string }[] | null;
  /** How it is offered; null where that was not kept. */
  choices: PublishChoices | null;
  /** How often each format was taken; some are offered no longer. */
  files: { format: OfferedFormat; name: string; bytes: number; downloads: number; offered: boolean }[];
}

/** Files of a project that were made for outside. */
export async function filesForOutside(db: Database, project: Project): Promise<OutsideFile[]> {
  const manifest = project.files.get(MANIFEST_NAME);
  return manifest ? outsideFiles(await getBlob(db, manifest.sha256), project) : [];
}

/** Takes a file out of the catalogue; its page is gone at once. @throws Refusal when it is not in it */
export async function withdraw(db: Database, projectId: string, user: string, id: string): Promise<void> {
  await db.transaction(async (trx) => {
    await holdAs(trx, { project: projectId, user }, 'editor');
    const [row] = await trx('publications')
      .where({ id, project_id: projectId })
      .whereNull('withdrawn')
      .update({ withdrawn: trx.fn.now() })
      .returning('path');
    if (!row) throw new Refusal('It is not in the catalogue any more.');
    await writeLog(trx, projectId, user, 'publish', `Withdrew ${row.path} from the catalogue`);
  });
}

/** What a project has, or had, in the catalogue; the newest first. */
export async function publicationsOf(db: Database, projectId: string): Promise<Publication[]> {
  return withFiles(
    db,
    await db('publications').where('project_id', projectId).orderBy('time', 'desc').select(COLUMNS),
  );
}

/** Everything that is offered, for everybody. */
export async function catalogue(db: Database): Promise<Publication[]> {
  return withFiles(db, await offered(db).orderBy('time', 'desc').limit(200).select(COLUMNS));
}

/** What is offered at an address; undefined when nothing is, or no longer. */
export async function publicationAt(db: Database, token: string): Promise<Publication | undefined> {
  const row = await offered(db).where('token', token).first(COLUMNS);
  return row && (await withFiles(db, [row]))[0];
}

/** One format of what is offered; each time it is taken counts. */
export async function takeFile(
  db: Database,
  token: string,
  format: string,
): Promise<{ name: string; content: Buffer } | undefined> {
  const [file] = await db('publication_files')
    .where({ format, offered: true })
    .whereIn('publication_id', offered(db).where('token', token).select('id'))
    .increment('downloads', 1)
    .returning(['name', 'content']);
  return file;
}

/** The mesh of what is offered, to be looked at: that does not count as taken. */
export async function meshAt(db: Database, token: string): Promise<Buffer | undefined> {
  const file = await db('publication_files')
    .where({ format: 'glb', offered: true })
    .whereIn('publication_id', offered(db).where('token', token).select('id'))
    .first('content');
  return file?.content;
}

export async function pictureAt(db: Database, token: string): Promise<Buffer | undefined> {
  const row = await offered(db).where('token', token).first('image');
  return row?.image ?? undefined;
}

/** What anybody may see: not withdrawn, and not of a project that was deleted. */
function offered(db: Database) {
  return db('publications')
    .whereNull('withdrawn')
    .whereNotIn('project_id', db('projects').whereNotNull('deleted').select('id'));
}

const COLUMNS = [
  ...['id', 'token', 'path', 'sha256', 'title', 'facts', 'time', 'withdrawn', 'choices'],
  'made_from as madeFrom',
];

async function withFiles(db: Database, rows: Omit<Publication, 'files'>[]): Promise<Publication[]> {
  const files = await db('publication_files')
    .whereRaw('publication_id = any(?)', [rows.map(({ id }) => id)])
    .select('publication_id', 'format', 'name', 'downloads', 'offered', db.raw('length(content) as bytes'));
  return rows.map((row) => ({
    ...row,
    files: OFFERED_FORMATS.flatMap((format) =>
      files.filter((file) => file.publication_id === row.id && file.format === format),
    ),
  }));
}
