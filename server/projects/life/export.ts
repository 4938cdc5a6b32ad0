import type { Readable } from 'node:stream';
import { PROJECT_EXPORT, type ProjectExport } from '#core/project/change/project-export';
import type { Database } from '#server/db/connection';
import { ZipOfContents } from '#server/projects/files/zip-of-contents';
import { listMembers } from '#server/projects/people/members';
import { GONE } from '#server/projects/projects';

/**
 * A project with its history, as a zip: the files as they are now, every other version by its hash, and `project.json`, which says what is
 * what. Contents are read when their turn comes, a piece at a time, so memory holds what says what is what only.
 * @returns the zip as a stream, and the name of the project
 */
export async function exportProject(
  db: Database,
  projectId: string,
  now: Date,
): Promise<{ name: string; zip: Readable }> {
  const list = await listOf(db, projectId, now);
  const zip = new ZipOfContents(db, now);
  zip.addText('project.json', `${JSON.stringify(list, null, 2)}\n`);
  for (const { path, sha256, bytes } of list.files) zip.addContent(`files/${path}`, sha256, bytes);
  const present = new Set(list.files.map(({ sha256 }) => sha256));
  for (const { sha256, bytes } of list.versions) {
    if (present.has(sha256)) continue;
    present.add(sha256);
    zip.addContent(`history/${sha256}`, sha256, bytes);
  }
  const offered = new Set<string>();
  for (const { sha256, read } of await publishedContents(db, projectId)) {
    if (offered.has(sha256)) continue;
    offered.add(sha256);
    zip.addMade(`publications/${sha256}`, read);
  }
  return { name: list.name, zip: zip.end() };
}

/** What `project.json` says; all of it from one state of the project. */
async function listOf(db: Database, projectId: string, now: Date): Promise<ProjectExport> {
  return db.transaction(
    async (trx) => {
      const project = await trx('projects').where('id', projectId).first();
      const [members, files, versions, changes, log] = [
        await listMembers(trx, projectId),
        await trx('files').where('project_id', projectId).orderBy('path'),
        await byPerson(trx, 'versions', 'author_id', projectId).orderBy([
          { column: 'versions.path' },
          { column: 'versions.version' },
        ]),
        await byPerson(trx, 'change_sets', 'author_id', projectId).orderBy('change_sets.time'),
        await byPerson(trx, 'log', 'user_id', projectId).orderBy('log.id'),
      ];
      return {
        format: PROJECT_EXPORT,
        version: 2,
        name: project.name,
        description: project.description,
        searchFolders: project.search_folders,
        exported: now.toISOString(),
        members: members.map(({ name, email, role }) => ({ name, email, role })),
        files: files.map(({ path, sha256, bytes, version, file_id }) => ({
          path,
          sha256,
          bytes: Number(bytes),
          version,
          file: file_id,
        })),
        versions: versions.map(
          ({ path, sha256, bytes, version, file_id, who, email, time, note, change_set_id }) => ({
            path,
            sha256,
            bytes: Number(bytes),
            version,
            file: file_id,
            who: who ?? GONE,
            email,
            time: time.toISOString(),
            note,
            change: change_set_id,
          }),
        ),
        changes: changes.map(
          ({ id, who, email, time, summary, changes: steps, rewires, warnings, made, undoes }) => ({
            id,
            who: who ?? GONE,
            email,
            time: time.toISOString(),
            summary,
            changes: steps,
            rewires,
            warnings,
            made,
            undoes,
          }),
        ),
        log: log.map(({ who, email, time, kind, summary, change_set_id }) => ({
          who: who ?? GONE,
          email,
          time: time.toISOString(),
          kind,
          summary,
          change: change_set_id,
        })),
        publications: await publicationsFor(trx, projectId),
      };
    },
    { isolationLevel: 'repeatable read', readOnly: true },
  );
}

/** Rows of a project with the name of whoever made each. */
function byPerson(db: Database, name: string, person: string, projectId: string) {
  return db(name)
    .leftJoin('users', 'users.id', `${name}.${person}`)
    .where(`${name}.project_id`, projectId)
    .select(`${name}.*`, 'users.email', db.raw('coalesce(users.name, ??) as who', [`${name}.author_name`]));
}

/** What was offered in the catalogue, or is. */
async function publicationsFor(db: Database, projectId: string): Promise<ProjectExport['publications']> {
  const rows = await db('publications')
    .leftJoin('users', 'users.id', 'publications.user_id')
    .where('project_id', projectId)
    .orderBy('publications.time')
    .select('publications.*', 'users.name as who', 'users.email', digestOf(db, 'image', 'picture'));
  const files = await db('publication_files')
    .whereRaw('publication_id = any(?)', [rows.map(({ id }) => id)])
    .orderBy('format')
    .select('publication_id', 'format', 'name', 'downloads', 'offered', digestOf(db, 'content', 'sha256'));
  return rows.map(
    ({ id, token, path, sha256, title, facts, picture, time, withdrawn, who, email, ...row }) => ({
      token,
      path,
      sha256,
      title,
      facts,
      madeFrom: row.made_from,
      choices: row.choices,
      picture,
      time: time.toISOString(),
      withdrawn: withdrawn?.toISOString() ?? null,
      who: who ?? GONE,
      email,
      files: files
        .filter(({ publication_id }) => publication_id === id)
        .map(({ publication_id: _, ...file }) => file),
    }),
  );
}

/** SHA-256 of the bytes in a column, as digests are written. */
const digestOf = (db: Database, column: string, name: string) =>
  db.raw("encode(sha256(??), 'hex') as ??", [column, name]);

/** The pictures and files of what was offered, each read when its turn comes. */
async function publishedContents(
  db: Database,
  projectId: string,
): Promise<{ sha256: string; read: () => Promise<Buffer> }[]> {
  const own = db('publications').where('project_id', projectId);
  const pictures = await own
    .clone()
    .whereNotNull('image')
    .select('id', digestOf(db, 'image', 'sha256'));
  const files = await db('publication_files')
    .whereIn('publication_id', own.clone().select('id'))
    .select('publication_id', 'format', digestOf(db, 'content', 'sha256'));
  return [
    ...pictures.map(({ id, sha256 }) => ({
      sha256,
      read: async () => (await db('publications').where('id', id).first('image')).image,
    })),
    ...files.map(({ publication_id, format, sha256 }) => ({
      sha256,
      read: async () =>
        (await db('publication_files').where({ publication_id, format }).first('content')).content,
    })),
  ];
}
