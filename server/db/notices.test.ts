import { afterAll, expect, it } from 'vitest';
import { closeDatabase, database } from './connection';
import { onNotice, sendNotice } from './notices';

afterAll(closeDatabase);

it('notices are heard again after the connection was lost, and whoever listens is told to catch up', async () => {
  const db = database();
  const heard: string[] = [];
  let caughtUp = 0;
  const stop = await onNotice(
    'stonetray_test',
    (payload) => heard.push(payload),
    () => caughtUp++,
  );
  await sendNotice(db, 'stonetray_test', 'one');
  await expect.poll(() => heard).toEqual(['one']);
  await db.raw(
    `select pg_terminate_backend(pid) from pg_stat_activity
     where query ilike 'listen%' and datname = current_database() and pid <> pg_backend_pid()`,
  );
  await expect.poll(() => caughtUp, { timeout: 5000 }).toBe(1);
  await sendNotice(db, 'stonetray_test', 'two');
  await expect.poll(() => heard).toEqual(['one', 'two']);
  stop();
  await sendNotice(db, 'stonetray_test', 'three');
  await new Promise((resolve) => setTimeout(resolve, 100));
  expect(heard).toEqual(['one', 'two']);
});
