import { mkdirSync, openSync, renameSync, statSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from './bootstrap.mjs';
import { ensureDatabase, startPostgres } from './postgres';
import { buildIfStale, keepProcesses } from './processes';

/** Bytes after which a log is put aside. */
const LONGEST_LOG = 20_000_000;

/** Starts everything: PostgreSQL, schema, demo data, the built application, a job worker. */
export async function demo(args: string[]): Promise<void> {
  const cluster = await startPostgres();
  process.env.DATABASE_URL = await ensureDatabase(cluster, 'stonetray', args.includes('--reset'));
  process.env.STONETRAY_DEMO = '1';

  const { database, closeDatabase } = await import('#server/db/connection');
  const { migrate } = await import('#server/db/migrate');
  await migrate(database());
  if (!(await database()('users').first('id'))) {
    console.log('Filling in the demo projects…');
    const { seedArrived, seedDemo, seedGivenOut } = await import('#demo/seed');
    await seedDemo(database());
    await seedGivenOut(database());
    await seedArrived(database());
    await (await import('#server/jobs/queue')).stopJobs();
  }
  await closeDatabase();

  buildIfStale();
  const logs = path.join(ROOT, '.data/logs');
  mkdirSync(logs, { recursive: true });
  const log = path.join(logs, 'demo.log');
  // One that has grown is put aside; the one before it goes.
  if ((statSync(log, { throwIfNoEntry: false })?.size ?? 0) > LONGEST_LOG) renameSync(log, `${log}.before`);
  const say = (words: string) => console.error(`${words} Why stands in ${path.relative(ROOT, log)}.`);
  const { port, end } = await keepProcesses(Number(process.env.PORT ?? 4680), openSync(log, 'a'), say);
  console.log(
    `\n  Stone Tray is at http://localhost:${port}\n  What goes on is written to ${path.relative(ROOT, log)}.\n  Ctrl+C stops it. Your data stays; \`npm run demo -- --reset\` starts over.\n`,
  );
  const stop = async () => {
    await end();
    if (cluster.started) cluster.stop();
    process.exit(0);
  };
  process.on('SIGINT', () => void stop());
  process.on('SIGTERM', () => void stop());
}
