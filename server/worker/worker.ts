import { availableParallelism } from 'node:os';
import { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';
import { refusalOf } from '#core/refusal';
import { closeDatabase, database } from '#server/db/connection';
import { stopJobs, work } from '#server/jobs/queue';
import { sweep } from '#server/jobs/sweep';
import { runTask } from '#server/jobs/tasks';
import { defectInWords } from '#server/log';
import { collect } from '#server/projects/life/collect';
import { makePortraits } from './make-portraits';
import { failShapes, makeShapes } from './make-shapes';
import { TASK_KINDS } from './task-kinds';

/** A kernel holds up to 1.5 GB while it works on a large file. */
const MOST_KERNELS = 4;

/** The job worker: a process that plans, applies and meshes. Start more of them on other machines. */
const db = database();
/** One kernel for each core; a core of its own for the rest of the work would stand idle most of the time. */
const KERNELS = Math.min(MOST_KERNELS, availableParallelism());
const idle = Array.from({ length: KERNELS }, () => new ThreadedKernel());
/** Somebody waits before the page for a task: it does not queue behind the shapes of an import. */
const waitedFor = new ThreadedKernel();
/** A preview does not wait behind a long split, nor behind two. */
const TASKS_AT_ONCE = 3;
/** Many contents are small: they are fetched by the handful, which no other kernel can take over. */
const SHAPES_AT_ONCE = 6;

/** Milliseconds between two looks for work that nobody does. */
const SWEEP_PAUSE = 10_000;
/** Milliseconds between two looks for what belongs to nobody. */
const COLLECT_PAUSE = 3_600_000;

await work('task', { atOnce: TASKS_AT_ONCE }, async ([job]) =>
  runTask(db, waitedFor, TASK_KINDS, job!.taskId),
);
// One that fails is recorded and keeps none of the others.
await work('shape', { atOnce: KERNELS, batch: SHAPES_AT_ONCE }, async (contents) => {
  const kernel = idle.pop()!;
  for (const content of contents) {
    try {
      await makeShapes(db, kernel, content);
    } catch (error) {
      await failShapes(db, content.sha256, refusalOf(error) ?? defectInWords(error, { kind: 'shape' }));
    }
  }
  idle.push(kernel);
});
await work('portrait', {}, async ([job]) => {
  try {
    await makePortraits(db, job!.projectId);
  } catch (error) {
    // A list of projects without this picture is no harm.
    defectInWords(error, { kind: 'portrait', project: job!.projectId });
  }
});
const sweeping = setInterval(() => {
  sweep(db).catch((error) => defectInWords(error, { kind: 'sweep' }));
}, SWEEP_PAUSE);
const collecting = setInterval(() => {
  collect(db).catch((error) => defectInWords(error, { kind: 'collect' }));
}, COLLECT_PAUSE);
console.log('Job worker ready.');

const stop = async () => {
  clearInterval(sweeping);
  clearInterval(collecting);
  await stopJobs();
  await Promise.all([...idle, waitedFor].map((kernel) => kernel.close()));
  await closeDatabase();
  process.exit(0);
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
