import { afterAll, expect, it } from 'vitest';
import { closeDatabase, database } from '#server/db/connection';
import { migrate } from '#server/db/migrate';
import { enqueue, stopJobs, work } from './queue';

afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

/** As long as two rounds of looking for work take. */
const SECONDS = 12;

/** Statements that the queue's connections have begun, as the server of the database counts transactions. */
async function transactions(): Promise<number> {
  const { rows } = await database().raw(
    'select xact_commit + xact_rollback as count from pg_stat_database where datname = current_database()',
  );
  return Number(rows[0].count);
}

it('an idle worker leaves the database alone, and begins at once when there is work', async () => {
  await migrate(database());
  let began = 0;
  await work('task', { atOnce: 3 }, async () => {
    began = performance.now();
  });
  await work('import', {}, async () => {});
  await work('shape', { batch: 25 }, async () => {});
  // The count is written down with a delay; no other test runs beside this one.
  await new Promise((resolve) => setTimeout(resolve, 2000));
  const before = await transactions();
  await new Promise((resolve) => setTimeout(resolve, SECONDS * 1000));
  expect(((await transactions()) - before) / SECONDS).toBeLessThan(2);

  const asked = performance.now();
  await enqueue('task', { taskId: crypto.randomUUID() }, crypto.randomUUID());
  await expect.poll(() => began, { timeout: 3000 }).toBeGreaterThan(0);
  // Far less than the pause between two looks.
  expect(began - asked).toBeLessThan(2500);
});
