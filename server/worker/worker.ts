import { ThreadedKernel } from '#core/shape/threaded-kernel';
import { closeDatabase, database } from '#server/db/connection';
import { type Jobs, jobs, stopJobs, TASK_NAMES } from '#server/jobs/queue';
import { runTask } from '#server/jobs/tasks';
import { runImport } from '#server/projects/imports';
import { failShapes, makeShapes } from './make-shapes';
import { TASK_KINDS } from './task-kinds';

/** The job worker: a process that imports and meshes. Start as many as there are cores to spare. */
const db = database();
const kernel = new ThreadedKernel();
/** Somebody waits before the page for a task: it does not queue behind the shapes of an import. */
const waitedFor = new ThreadedKernel();
const boss = await jobs();

await boss.work<Jobs['import']>('import', { pollingIntervalSeconds: 0.5 }, async ([job]) => {
  await runImport(db, job!.data.importId);
});
for (const name of TASK_NAMES)
  await boss.work<Jobs[typeof name]>(name, { pollingIntervalSeconds: 0.5 }, async ([job]) => {
    await runTask(db, waitedFor, TASK_KINDS, job!.data.taskId);
  });
// Many contents are small: they are fetched by the handful. One that fails is recorded and keeps none of the others.
await boss.work<Jobs['shape']>('shape', { pollingIntervalSeconds: 0.5, batchSize: 25 }, async (batch) => {
  for (const { data } of batch) {
    try {
      await makeShapes(db, kernel, data);
    } catch (error) {
      await failShapes(db, data.sha256, error instanceof Error ? error.message : String(error));
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
