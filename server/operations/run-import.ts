import type { OnConflict } from '#core/handoff/unpack';
import { IMPORT, type ImportChoices } from '#core/import/operation';
import { baseName } from '#core/links/paths';
import { planOperation } from '#core/operation';
import { refusalOf } from '#core/refusal';
import { putBlobs } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { announce } from '#server/events/events';
import { requestShapes } from '#server/jobs/shapes';
import { defectInWords } from '#server/log';
import type { ImportResult } from '#server/projects/imports';
import { loadProject, scanKey, scansOf } from '#server/projects/project-scan';
import { contextFor } from './context';

/** Milliseconds between two words of how far an import is. */
const TELL_PAUSE = 150;

/** Lays out, scans and applies an import in one change. Runs in the job worker. */
export async function runImport(db: Database, importId: string): Promise<void> {
  const started = await db('imports')
    .where('id', importId)
    .whereIn('state', ['waiting', 'running'])
    .update({ state: 'running' }, ['project_id', 'user_id', 'on_conflict']);
  if (started.length === 0) return;
  const {
    project_id: project,
    user_id: user,
    on_conflict: onConflict,
  } = started[0] as { project_id: string; user_id: string; on_conflict: OnConflict };
  let told = 0;
  const progress = async (doing: string, done: number, total: number) => {
    if (performance.now() - told < TELL_PAUSE) return;
    told = performance.now();
    const still = await db('imports')
      .where({ id: importId, state: 'running' })
      .update({ doing, done, total });
    if (still === 0) throw new Cancelled();
    await announce(db, { project, type: 'import', import: importId, state: 'running', doing, done, total });
  };
  const finish = async (state: 'done' | 'failed', result: ImportResult) => {
    await db('imports')
      .where('id', importId)
      .update({ state, result: JSON.stringify(result), doing: '' });
    await announce(db, { project, type: 'import', import: importId, state, doing: '', done: 1, total: 1 });
  };
  const result: ImportResult = {
    added: [],
    replaced: [],
    unchanged: 0,
    conflicts: [],
    problems: [],
    changeSet: null,
  };
  try {
    const { context, files } = await contextFor({ db, project, user, report: progress });
    const choices: ImportChoices = { from: [importId], onConflict };
    const { change: plan, preview } = await planOperation(IMPORT, context, choices);
    Object.assign(result, preview);
    if (plan.changes.length > 0) {
      const contents = plan.changes.flatMap((change) => (change.action === 'write' ? [change] : []));
      await putBlobs(
        db,
        new Map(contents.flatMap(({ sha256, content }) => (content ? [[sha256, content] as const] : []))),
      );
      for (const change of contents) change.content = null;
      const scans = await scansOf(db, contents, (path, done, of) =>
        progress(`Reading ${baseName(path)}`, done, of),
      );
      for (const { path, sha256 } of contents) {
        const { error } = scans.get(scanKey(sha256, path))!;
        if (error) result.problems.push({ path, problem: `Cannot be read. ${error}` });
      }
      told = 0;
      await progress('Saving', plan.changes.length, plan.changes.length);
      result.changeSet = await files.applyAs(plan);
      await requestShapes(db, await loadProject(db, project));
    }
    await finish('done', result);
  } catch (error) {
    if (error instanceof Cancelled) return;
    const problem = refusalOf(error) ?? defectInWords(error, { kind: 'import', project, user });
    result.problems.unshift({ path: '', problem });
    await finish('failed', result);
  }
}

class Cancelled extends Error {}
