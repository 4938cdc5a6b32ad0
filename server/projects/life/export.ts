import { Readable } from 'node:stream';
import { ZipFile } from 'yazl';
import { PROJECT_EXPORT, type ProjectExport } from '#core/project/formats/project-export';
import { streamBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
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
  const zip = new ZipFile();
  const output = zip.outputStream as Readable;
  (zip as unknown as NodeJS.EventEmitter).on('error', (error: Error) => output.destroy(error));
  zip.addBuffer(Buffer.from(`${JSON.stringify(list, null, 2)}\n`), 'project.json', { mtime: now });
  const add = (sha256: string, bytes: number, path: string) =>
    zip.addReadStreamLazy(
      path,
      { mtime: now, size: bytes },
      (give) =>
        void streamBlob(db, sha256).then(
          ({ stream }) => give(null, Readable.fromWeb(stream as never)),
          (error: Error) => give(error, undefined as never),
        ),
    );
  for (const { path, sha256, bytes } of list.files) add(sha256, bytes, `files/${path}`);
  const present = new Set(list.files.map(({ sha256 }) => sha256));
  for (const { sha256, bytes } of list.versions) {
    if (present.has(sha256)) continue;
    present.add(sha256);
    add(sha256, bytes, `history/${sha256}`);
  }
  zip.end();
  return { name: list.name, zip: output };
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
        version: 1,
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
          ({ path, sha256, bytes, version, file_id, who, time, note, change_set_id }) => ({
            path,
            sha256,
            bytes: Number(bytes),
            version,
            file: file_id,
            who: who ?? GONE,
            time: time.toISOString(),
            note,
            change: change_set_id,
          }),
        ),
        changes: changes.map(({ id, who, time, summary, changes: made, rewires, warnings, undoes }) => ({
          id,
          who: who ?? GONE,
          time: time.toISOString(),
          summary,
          changes: made,
          rewires,
          warnings,
          undoes,
        })),
        log: log.map(({ who, time, kind, summary, change_set_id }) => ({
          who: who ?? GONE,
          time: time.toISOString(),
          kind,
          summary,
          change: change_set_id,
        })),
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
    .select(`${name}.*`, 'users.name as who');
}
