import { HandOffError, type HandOffOptions, planHandOff } from '#core/handoff/plan';
import { writePackage } from '#core/handoff/write-package';
import { baseName, stemOf } from '#core/links/paths';
import type { Database } from '#server/db/connection';
import { announce } from '#server/events/events';
import { enqueue } from '#server/jobs/queue';
import { dropUnused, putBlobStream } from './blobs';
import { ProjectFileSet } from './project-files';
import { loadProject } from './project-scan';
import { writeLog } from './projects';

/** A package that was asked for. */
export interface PackageState {
  id: string;
  state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  doing: string;
  done: number;
  total: number;
  /** Name of the zip. */
  name: string;
  error: string | null;
}

/** Packages are kept this long for downloading. */
const KEPT_HOURS = 24;

/** Asks for a package to be written. @returns its id */
export async function startPackage(
  db: Database,
  projectId: string,
  userId: string,
  options: HandOffOptions,
): Promise<string> {
  await discardOld(db);
  const [{ id }] = await db('packages')
    .insert({ project_id: projectId, user_id: userId, options: JSON.stringify(options) })
    .returning('id');
  await enqueue('package', { packageId: id }, id);
  return id;
}

export async function cancelPackage(
  db: Database,
  projectId: string,
  userId: string,
  id: string,
): Promise<void> {
  await db('packages')
    .where({ id, project_id: projectId, user_id: userId })
    .whereIn('state', ['waiting', 'running'])
    .update({ state: 'cancelled' });
}

/** State of one package; a person sees their own only. */
export async function packageState(
  db: Database,
  projectId: string,
  userId: string,
  id: string,
): Promise<(PackageState & { sha256: string | null }) | undefined> {
  return db('packages')
    .where({ id, project_id: projectId, user_id: userId })
    .first('id', 'state', 'doing', 'done', 'total', 'name', 'error', 'sha256');
}

/** Writes a package and stores the zip. Runs in the job worker. */
export async function runPackage(db: Database, id: string): Promise<void> {
  const [row] = await db('packages')
    .where('id', id)
    .whereIn('state', ['waiting', 'running'])
    .update({ state: 'running' }, ['project_id', 'user_id', 'options']);
  if (!row) return;
  const { project_id: project, user_id: user } = row as { project_id: string; user_id: string };
  const options = row.options as HandOffOptions;
  const tell = (state: string, doing: string, done: number, total: number) =>
    announce(db, { project, type: 'package', package: id, state, doing, done, total });
  const cancelled = new AbortController();
  try {
    const plan = planHandOff(await loadProject(db, project), options);
    if (plan.broken.length > 0 && !options.allowBroken)
      throw new HandOffError(
        `${plan.broken.length} links are broken. Repair them first, or say on the page to go on.`,
      );
    const name = `${stemOf(plan.rootInside)}.zip`;
    await db('packages').where('id', id).update({ name });
    let reporting = Promise.resolve();
    const { zip } = await writePackage(new ProjectFileSet(db, project), plan, {
      now: new Date(),
      signal: cancelled.signal,
      onFile: (done, total, path) => {
        const doing = `Packing ${baseName(path)}`;
        reporting = reporting.then(async () => {
          const still = await db('packages').where({ id, state: 'running' }).update({ doing, done, total });
          if (still === 0) cancelled.abort();
          else await tell('running', doing, done, total);
        });
      },
    });
    const { sha256 } = await putBlobStream(db, zip, Number.POSITIVE_INFINITY);
    await reporting;
    const finished = await db('packages')
      .where({ id, state: 'running' })
      .update({ state: 'done', sha256, doing: '' });
    if (finished === 0) return;
    await writeLog(
      db,
      project,
      user,
      'package',
      `Packaged ${baseName(plan.root)} with ${plan.files.length} files`,
    );
    await tell('done', '', plan.files.length, plan.files.length);
  } catch (error) {
    if (cancelled.signal.aborted) return;
    const words = error instanceof Error ? error.message : String(error);
    await db('packages').where({ id, state: 'running' }).update({ state: 'failed', error: words });
    await tell('failed', words, 0, 0);
  }
}

/** Old packages go, and their zips with them. */
async function discardOld(db: Database): Promise<void> {
  const old: { sha256: string | null }[] = await db('packages')
    .where('time', '<', db.raw(`now() - make_interval(hours => ?)`, [KEPT_HOURS]))
    .delete()
    .returning('sha256');
  await dropUnused(
    db,
    old.flatMap(({ sha256 }) => sha256 ?? []),
  );
}
