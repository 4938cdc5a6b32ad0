import { startStand } from '../e2e/harness';
import { readDamaged } from '../soak/damaged-files';
import { holdAgainst } from '../soak/exact';
import { killChanges } from '../soak/kills';
import { load } from '../soak/load';
import { oneAgainstAll } from '../soak/one-against-all';
import { killServers } from '../soak/server-kills';
import { dropDatabase, ensureDatabase, startPostgres, templateOf } from './postgres';
import { buildIfStale } from './processes';

const NAME = 'stonetray_soak';

/** `npm run soak [-- KILLS FILES CLIENTS SECONDS ROUNDS RAYS]`: a long run of what the tests do in short; prints its counts, and ends with 1 when something broke. */
export async function soak(args: string[]): Promise<number> {
  const [kills = 1000, files = 10_000, clients = 50, seconds = 600, rounds = 30, rays = 10_000] =
    args.map(Number);
  const killed = await killChanges(kills, 3);
  console.log(JSON.stringify({ killed }));
  const damaged = readDamaged(files);
  console.log(JSON.stringify({ damaged }));
  const inexact = await holdAgainst(rays);
  console.log(JSON.stringify({ inexact }));
  const cluster = await startPostgres();
  process.env.DATABASE_URL = await ensureDatabase(cluster, NAME, true);
  // One that a run left which was cut off is of another day.
  await dropDatabase(cluster, templateOf(NAME));
  buildIfStale();
  const servers = await killServers(rounds);
  console.log(JSON.stringify({ servers }));
  const stand = await startStand();
  try {
    const ways = await oneAgainstAll(stand);
    console.log(JSON.stringify({ ways }));
    const loaded = await load(stand, clients, seconds);
    console.log(JSON.stringify({ loaded }));
    return killed.broken +
      damaged.failed +
      Object.keys(inexact).length +
      servers.broken +
      servers.hung +
      loaded.failed +
      loaded.hung +
      loaded.letIn +
      ways.reduce((sum, { broken }) => sum + broken.length, 0) >
      0
      ? 1
      : 0;
  } finally {
    await stand.stop();
    await dropDatabase(cluster, NAME);
    await dropDatabase(cluster, templateOf(NAME));
    if (cluster.started) cluster.stop();
  }
}
