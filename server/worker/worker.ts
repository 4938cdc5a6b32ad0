import { randomUUID } from 'node:crypto';
import { availableParallelism } from 'node:os';
import { KernelPool } from '#core/geometry/shape/kernel-pool';
import { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';
import { refusalOf } from '#core/refusal';
import { isAway, untilThere } from '#server/db/away';
import { closeDatabase, database } from '#server/db/connection';
import { sayAlive, sayGone } from '#server/db/workers';
import { stopJobs, work } from '#server/jobs/queue';
import { runNextPlan, runTask } from '#server/jobs/run-task';
import { sweep } from '#server/jobs/sweep';
import { defectInWords, log } from '#server/log';
import { collect } from '#server/projects/life/collect';
import { makePortraits } from './make-portraits';
import { drawMissingPictures, failShapes, makeShapes } from './make-shapes';
import { TASK_KINDS } from './task-kinds';

/** A kernel holds up to 1.5 GB while it works on a large file. */
const MOST_KERNELS = 4;

/** The job worker: a process that plans, applies and meshes. Start more of them on other machines. */
const db = database();
/** One kernel for each core; a core of its own for the rest of the work would stand idle most of the time. */
const KERNELS = Math.min(MOST_KERNELS, availableParallelism());
/** Somebody waits before the page: no change queues behind the shapes of an import, nor behind plans, however slow those are. */
const [CHANGES_AT_ONCE, PLANS_AT_ONCE] = [2, 2];
const kernelsFor = (count: number) => Array.from({ length: count }, () => new ThreadedKernel());
const forChanges = kernelsFor(CHANGES_AT_ONCE);
/** A plan fills many files: it has all of them to itself as long as there is no other. */
const forPlans = new KernelPool(kernelsFor(PLANS_AT_ONCE));
const forShapes = kernelsFor(KERNELS);
/** Many contents are small: they are fetched by the handful, which no other kernel can take over. */
const SHAPES_AT_ONCE = 6;

/** Milliseconds between two signs of life. */
const ALIVE_PAUSE = 5000;
/** Milliseconds between two looks for work that nobody does. */
const SWEEP_PAUSE = 10_000;
/** Pictures that are missing are drawn so many at a time. */
const PICTURES_AT_ONCE = 10;
/** Milliseconds between two looks for what belongs to nobody. */
const COLLECT_PAUSE = 3_600_000;

/** Lends a kernel for some work. */
async function withOne(
  kernels: ThreadedKernel[],
  work: (kernel: ThreadedKernel) => Promise<void>,
): Promise<void> {
  const kernel = kernels.pop()!;
  try {
    await work(kernel);
  } finally {
    kernels.push(kernel);
  }
}

// The queue does not wait for its own word that a job has ended: where the connection drops just then, it is nobody's to hear.
process.on('unhandledRejection', (error) => {
  if (isAway(error)) log.warn({ err: error }, 'the database went away while a job ended');
  else {
    defectInWords(error, { kind: 'job worker' });
    // In which state it is nobody knows: whoever keeps it running starts another.
    process.exit(1);
  }
});

const id = randomUUID();
await untilThere(db);
await sayAlive(db, id);
const living = setInterval(() => {
  sayAlive(db, id).catch((error) => defectInWords(error, { kind: 'sign of life' }));
}, ALIVE_PAUSE);
await work('change', { atOnce: CHANGES_AT_ONCE }, ([job]) =>
  withOne(forChanges, (kernel) => runTask(db, kernel, TASK_KINDS, job!.taskId)),
);
await work('plan', { atOnce: PLANS_AT_ONCE }, () => runNextPlan(db, forPlans, TASK_KINDS));
// One that fails is recorded and keeps none of the others.
await work('shape', { atOnce: KERNELS, batch: SHAPES_AT_ONCE }, (contents) =>
  withOne(forShapes, async (kernel) => {
    for (const content of contents) {
      try {
        await makeShapes(db, kernel, content);
      } catch (error) {
        await failShapes(db, content.sha256, refusalOf(error) ?? defectInWords(error, { kind: 'shape' }));
      }
    }
  }),
);
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
  drawMissingPictures(db, PICTURES_AT_ONCE).catch((error) => defectInWords(error, { kind: 'picture' }));
}, SWEEP_PAUSE);
const collecting = setInterval(() => {
  collect(db).catch((error) => defectInWords(error, { kind: 'collect' }));
}, COLLECT_PAUSE);
console.log('Job worker ready.');

const stop = async () => {
  clearInterval(sweeping);
  clearInterval(collecting);
  clearInterval(living);
  await sayGone(db, id).catch(() => {});
  await stopJobs();
  await Promise.all([...forShapes, ...forChanges, forPlans].map((kernel) => kernel.close()));
  await closeDatabase();
  process.exit(0);
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
