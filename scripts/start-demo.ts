import { ensureDatabase, freePort, startPostgres } from './postgres';
import { answering, buildIfStale, endProcesses, startProcesses } from './processes';

/** Starts everything: PostgreSQL, schema, demo data, the built application, a job worker. */
export async function demo(args: string[]): Promise<void> {
  const cluster = await startPostgres();
  process.env.DATABASE_URL = await ensureDatabase(cluster, 'stonetray', args.includes('--reset'));
  process.env.STONETRAY_DEMO = '1';

  const { database, closeDatabase } = await import('#server/db/connection');
  const { migrate } = await import('#server/db/migrate');
  await migrate(database());
  if (!(await database()('users').first('id'))) {
    console.log('Filling in the demo project…');
    const { seedDemo } = await import('#demo/seed');
    await seedDemo(database());
    await (await import('#server/jobs/queue')).stopJobs();
  }
  await closeDatabase();

  buildIfStale();
  const port = await freePort(Number(process.env.PORT ?? 4680));
  const children = startProcesses(port);
  for (const child of children)
    child.on(
      'exit',
      (code) =>
        code !== null &&
        code !== 0 &&
        console.error(`A process ended with code ${code}. Stop with Ctrl+C and start again.`),
    );
  await answering(port);
  console.log(
    `\n  Stone Tray is at http://localhost:${port}\n  Ctrl+C stops it. Your data stays; \`npm run demo -- --reset\` starts over.\n`,
  );
  const stop = async () => {
    await endProcesses(children);
    if (cluster.started) cluster.stop();
    process.exit(0);
  };
  process.on('SIGINT', () => void stop());
  process.on('SIGTERM', () => void stop());
}
