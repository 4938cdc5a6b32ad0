import pg from 'pg';
import { afterAll, expect, it, vi } from 'vitest';
import { closeDatabase, database } from '#server/db/connection';
import { migrate } from '#server/db/migrate';
import { enqueue, stopJobs, work } from './queue';

afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

/** As long as two rounds of looking for work take. */
const SECONDS = 10;

it('an idle worker asks the database at most twice a second in all, and begins at once when there is work', async () => {
  await migrate(database());
  let began = 0;
  await work('change', { atOnce: 3 }, async () => {
    began = performance.now();
  });
  await work('shape', { batch: 25 }, async () => {});
  await new Promise((resolve) => setTimeout(resolve, 1000));

  const asking = vi.spyOn(pg.Client.prototype, 'query');
  await new Promise((resolve) => setTimeout(resolve, SECONDS * 1000));
  // A worker that asked nothing would never find what it was not told of.
  expect(asking.mock.calls.length).toBeGreaterThan(0);
  expect(asking.mock.calls.length / SECONDS).toBeLessThanOrEqual(2);
  asking.mockRestore();

  const asked = performance.now();
  await enqueue('change', { taskId: crypto.randomUUID() }, crypto.randomUUID());
  await expect.poll(() => began, { timeout: 3000 }).toBeGreaterThan(0);
  // Far less than the pause between two looks.
  expect(began - asked).toBeLessThan(2500);
});
