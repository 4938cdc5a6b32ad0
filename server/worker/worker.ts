import { refusalOf } from '#core/refusal';
import { ThreadedKernel } from '#core/shape/threaded-kernel';
import { closeDatabase, database } from '#server/db/connection';
import { stopJobs, work } from '#server/jobs/queue';
import { runTask } from '#server/jobs/tasks';
import { defectInWords } from '#server/log';
import { failShapes, makeShapes } from './make-shapes';
import { TASK_KINDS } from './task-kinds';

/** The job worker: a process that plans, applies and meshes. Start as many as there are cores to spare. */
const db = database();
const kernel = new ThreadedKernel();
/** Somebody waits before the page for a task: it does not queue behind the shapes of an import. */
const waitedFor = new ThreadedKernel();
/** A preview does not wait behind a long split, nor behind two. */
const TASKS_AT_ONCE = 3;
/** Many contents are small: they are fetched by the handful. */
const SHAPES_AT_ONCE = 25;

await work('task', { atOnce: TASKS_AT_ONCE }, async ([job]) =>
  runTask(db, waitedFor, TASK_KINDS, job!.taskId),
);
// One that fails is recorded and keeps none of the others.
await work('shape', { batch: SHAPES_AT_ONCE }, async (contents) => {
  for (const content of contents) {
    try {
      await makeShapes(db, kernel, content);
    } catch (error) {
      await failShapes(db, content.sha256, refusalOf(error) ?? defectInWords(error, { kind: 'shape' }));
    }
  }
});
console.log('Job worker ready.');

const stop = async () => {
  await stopJobs();
  await Promise.all([kernel.close(), waitedFor.close()]);
  await closeDatabase();
  process.exit(0);
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
