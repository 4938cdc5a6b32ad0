import { ThreadedKernel } from '#core/shape/threaded-kernel';
import { closeDatabase, database } from '#server/db/connection';
import { runCut } from '#server/projects/cuts';
import { runImport } from '#server/projects/imports';
import { runPackage } from '#server/projects/packages';
import { failShapes, makeShapes } from './make-shapes';
import { type Jobs, jobs, stopJobs } from './queue';

/** The job worker: a process that imports and meshes. Start as many as there are cores to spare. */
const db = database();
const kernel = new ThreadedKernel();
/** Somebody waits before the page for a cut: it does not queue behind the shapes of an import. */
const cutting = new ThreadedKernel();
const boss = await jobs();

await boss.work<Jobs['import']>('import', { pollingIntervalSeconds: 0.5 }, async ([job]) => {
  await runImport(db, job!.data.importId);
});
await boss.work<Jobs['package']>('package', { pollingIntervalSeconds: 0.5 }, async ([job]) => {
  await runPackage(db, job!.data.packageId);
});
await boss.work<Jobs['cut']>('cut', { pollingIntervalSeconds: 0.5 }, async ([job]) => {
  await runCut(db, cutting, job!.data.cutId);
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
  await Promise.all([kernel.close(), cutting.close()]);
  await closeDatabase();
  process.exit(0);
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
