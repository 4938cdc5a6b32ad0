import { baseName } from '#core/files/links/paths';
import { answerWithBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { asDownload } from '#server/download';
import { type Owner, taskState } from '#server/jobs/tasks';
import type { AppliedChange } from './planned-view';

/**
 * One kept version of a file, as a download: never shown in a page, whatever it contains. Undefined for one that the project has not.
 * @param path of the file that is meant, where several have this content
 */
export async function versionAnswer(
  db: Database,
  projectId: string,
  { sha256, path }: { sha256: string; path: string | null },
): Promise<Response | undefined> {
  const versions = db('versions').where({ project_id: projectId, sha256 });
  const version =
    (path !== null && (await versions.clone().where({ path }).first('path'))) ||
    (await versions.first('path'));
  return version && answerWithBlob(db, sha256, asDownload(baseName(version.path)));
}

/** The hash of the newest version of a file, if there is one. */
export async function newestOf(db: Database, projectId: string, path: string): Promise<string | undefined> {
  const file = await db('files').where({ project_id: projectId, path }).first('sha256');
  return file?.sha256;
}

/** What a plan of the person's own keeps for its page: a model as binary glTF. Undefined for what is not kept, or is another's. */
export async function pictureAnswer(
  db: Database,
  { project, user }: Owner,
  sha256: string,
): Promise<Response | undefined> {
  const kept = await db('task_blobs')
    .join('tasks', 'tasks.id', 'task_blobs.task_id')
    .where({ project_id: project, user_id: user, sha256 })
    .first('sha256');
  return (
    kept &&
    answerWithBlob(db, sha256, {
      'Content-Type': 'model/gltf-binary',
      'Cache-Control': 'private, max-age=86400, immutable',
    })
  );
}

/** A picture of a content as binary glTF: a renewed one has another address. Only contents of the project are served. */
export async function shapeAnswer(
  db: Database,
  projectId: string,
  { sha256, gltf }: { sha256: string; gltf: string },
  known: string | null,
): Promise<Response | undefined> {
  const row = await db('shapes')
    .where({ sha256, gltf })
    .whereExists(db('versions').select(1).where({ project_id: projectId, sha256 }))
    .first('gltf');
  if (!row?.gltf) return undefined;
  const headers = {
    'Content-Type': 'model/gltf-binary',
    'Cache-Control': 'private, max-age=31536000, immutable',
    ETag: `"${row.gltf}"`,
  };
  if (known === headers.ETag) return new Response(null, { status: 304, headers });
  return answerWithBlob(db, row.gltf, headers);
}

/**
 * What an operation made for the person, as a download.
 * @returns null while it is not written yet; undefined when there is no such task of theirs
 */
export async function productAnswer(
  db: Database,
  owner: Owner,
  task: string | null,
): Promise<Response | null | undefined> {
  const state = await taskState<AppliedChange>(db, owner, task);
  if (state?.kind !== 'apply') return undefined;
  if (!state.result?.product) return null;
  const { name, sha256 } = state.result.product;
  return answerWithBlob(db, sha256, { ...asDownload(name, 'application/zip'), 'Cache-Control': 'no-store' });
}
