import { arrived } from '#server/db/arriving';
import { unreferenced } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { collectUploads } from '#server/projects/files/uploads';
import { INVITED_DAYS } from '#server/projects/people/invitations';
import { KEPT_DAYS } from './life';

/** Hours for which a content stays that nothing refers to: somebody may be about to. */
const LOOSE_HOURS = 24;
/** So many contents go with one statement. */
const AT_ONCE = 500;

/** What was collected. */
export interface Collected {
  projects: number;
  contents: number;
}

/**
 * Lets go of what belongs to nobody: projects that were deleted long ago, or that have no member any more; invitations
 * and sessions that have lapsed; contents that nothing refers to, and what was computed from them. Any number of workers may do this at once. Cost: one look at each content.
 */
export async function collect(db: Database): Promise<Collected> {
  const projects = await db('projects')
    .where('deleted', '<', db.raw('now() - make_interval(days => ?)', [KEPT_DAYS]))
    .orWhere((query) =>
      query
        .whereNotExists(db('members').whereRaw('members.project_id = projects.id'))
        .where('created_at', '<', db.raw(`now() - interval '1 day'`)),
    )
    .delete();
  await db('invitations')
    .where('time', '<', db.raw('now() - make_interval(days => ?)', [INVITED_DAYS]))
    .delete();
  await db('sign_in_attempts').where('time', '<', db.raw(`now() - interval '1 day'`)).delete();
  await collectUploads(db);
  await db('sessions').where('expires_at', '<', db.fn.now()).delete();
  // What was computed from contents that are in no project goes first: it holds contents of its own.
  for (const name of ['shapes', 'scans'])
    await db(name)
      .whereNotExists(db('versions').whereRaw('versions.sha256 = ??.sha256', [name]))
      .whereNotExists(db('upload_files').whereRaw('upload_files.sha256 = ??.sha256', [name]))
      .whereNotExists(db('task_blobs').whereRaw('task_blobs.sha256 = ??.sha256', [name]))
      .whereNotExists(
        db('blobs').whereRaw('blobs.sha256 = ??.sha256', [name]).where('time', '>', looseSince(db)),
      )
      .delete();
  let contents = 0;
  for (;;) {
    const hashes = arrived(unreferenced(db))
      .where('time', '<', looseSince(db))
      .limit(AT_ONCE)
      // One that somebody is about to refer to is locked by them: it is left alone.
      .forUpdate()
      .skipLocked()
      .select('sha256');
    const gone = await db('blobs').whereIn('sha256', hashes).delete();
    contents += gone;
    if (gone < AT_ONCE) return { projects, contents };
  }
}

function looseSince(db: Database) {
  return db.raw('now() - make_interval(hours => ?)', [LOOSE_HOURS]);
}
