import { Client } from 'pg';
import { MemoryFileSet } from '#core/project/change/memory';
import { multiplied } from '#core/testing/in-file-assembly';
import { DEMO_USERS } from '#demo/account';
import { closeDatabase, database } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { putMember } from '#server/projects/projects';
import { testProject } from '#server/testing';
import type { Stand } from '../e2e/harness';
import { signIn } from './sign-in';

/** What one person, or one fault, did to all others. */
export interface Way {
  way: string;
  /** Longest answer to somebody else meanwhile, ms; and before. */
  longest: number;
  usual: number;
  /** What did not come out as promised, in words. */
  broken: string[];
}

/** Milliseconds between two questions of somebody else; how long an answer may take. */
const [PAUSE, PATIENCE] = [50, 120_000];

/** Tries the six ways in which one once stopped all: each with somebody else who asks for a page all the time. */
export async function oneAgainstAll(stand: Stand): Promise<Way[]> {
  const owner = await signIn(stand.address, DEMO_USERS.engineer);
  const viewer = await signIn(stand.address, DEMO_USERS.viewer);
  const ways: Way[] = [];
  const ask = (address: string, cookie: string, init: RequestInit = {}) =>
    fetch(address, {
      ...init,
      redirect: 'manual',
      headers: { Cookie: cookie, 'Content-Type': 'application/json' },
      signal: AbortSignal.timeout(PATIENCE),
    });
  const others = async (until: Promise<unknown>): Promise<number> => {
    let longest = 0;
    let isOver = false;
    void until.finally(() => {
      isOver = true;
    });
    do {
      const began = performance.now();
      const answer = await ask(`${stand.project}/standing`, owner).catch(() => undefined);
      await answer?.arrayBuffer();
      longest = Math.max(longest, performance.now() - began);
      await new Promise((resolve) => setTimeout(resolve, PAUSE));
    } while (!isOver);
    return Math.round(longest);
  };
  const usual = await others(new Promise((resolve) => setTimeout(resolve, 3000)));
  const attempt = async (way: string, work: (say: (trouble: string) => void) => Promise<void>) => {
    const broken: string[] = [];
    const done = work((trouble) => broken.push(trouble)).catch((error: Error) => {
      broken.push(error.message);
    });
    ways.push({ way, longest: await others(done), usual, broken });
  };
  const plan = (operation: string, choices: object, cookie: string) =>
    ask(`${stand.project}/operations?for=${operation}`, cookie, {
      method: 'POST',
      body: JSON.stringify({ intent: 'plan', operation, choices }),
    });

  await attempt('choices of 15 MB', async (say) => {
    for (const choices of [`[${'{},'.repeat(5_000_000)}{}]`, '['.repeat(10_000_000)]) {
      const body = `{"intent":"plan","operation":"move","choices":{"moves":${choices}}}`;
      const answer = await ask(`${stand.project}/operations?for=move`, viewer, {
        method: 'POST',
        body,
      }).catch(() => undefined);
      // A sender that is cut off in the middle of it may hear nothing.
      if (answer && (answer.status < 400 || answer.status >= 500)) say(`answered with ${answer.status}`);
    }
  });

  const { project } = await testProject(new MemoryFileSet([['top.stp', multiplied(10, 10)]]));
  const { id: reader } = await database()('users').where('email', DEMO_USERS.engineer.email).first('id');
  await putMember(database(), project, reader, 'editor');
  await stopJobs();
  await attempt('the structure of a file that multiplies', async (say) => {
    for (let n = 0; n < 5; n++) {
      const answer = await ask(`${stand.address}/projects/${project}/structure`, owner);
      await answer.arrayBuffer();
      if (answer.status !== 200) say(`answered with ${answer.status}`);
    }
  });

  await attempt('slow plans of one person', async (say) => {
    for (let n = 0; n < 4; n++) {
      const choices = { file: 'azimuth-drive/azimuth-drive.stp', pattern: `{name}-${n}` };
      await (await plan('seal', choices, viewer)).arrayBuffer();
    }
    const began = performance.now();
    const answer = await plan('move', { moves: [{ from: 'standard', to: 'norm' }] }, owner);
    if (answer.status !== 200) say(`a plan of somebody else was answered with ${answer.status}`);
    const waited = await ended(stand, owner, (await answer.json()) as { task?: string });
    if (waited !== 'done') say(`a plan of somebody else ended as ${waited}`);
    if (performance.now() - began > 30_000) say('a plan of somebody else waited for half a minute');
  });

  await attempt('a job worker that does not answer', async (say) => {
    const ready = async () => (await ask(`${stand.address}/ready`, owner)).text();
    stand.worker.kill('SIGSTOP');
    await new Promise((resolve) => setTimeout(resolve, 18_000));
    if (!(await ready()).includes('No job worker')) say('nobody said that no job worker answers');
    stand.worker.kill('SIGCONT');
    await new Promise((resolve) => setTimeout(resolve, 8000));
    if ((await ready()).includes('No job worker')) say('it is still said that no job worker answers');
  });

  const { pathname } = new URL(process.env.DATABASE_URL!);
  const administer = async (...statements: string[]) => {
    const client = new Client({
      connectionString: Object.assign(new URL(process.env.DATABASE_URL!), {
        pathname: '/postgres',
      }).toString(),
    });
    await client.connect();
    for (const statement of statements) await client.query(statement);
    await client.end();
  };
  const name = pathname.slice(1);
  const drop = `select pg_terminate_backend(pid) from pg_stat_activity where datname = '${name}'`;
  await closeDatabase();
  await attempt('connections that drop while work ends', async (say) => {
    for (let n = 0; n < 10; n++) {
      const answer = await plan('move', { moves: [{ from: 'standard', to: `norm-${n}` }] }, owner);
      await administer(drop);
      await answer.arrayBuffer().catch(() => {});
    }
    await new Promise((resolve) => setTimeout(resolve, 2000));
    for (const child of [stand.worker, stand.web])
      if (child.exitCode !== null || child.signalCode !== null) say('a process ended');
  });

  await attempt('a database that is away', async (say) => {
    await administer(`alter database "${name}" allow_connections false`, drop);
    const answer = await ask(`${stand.project}/people`, owner);
    if (answer.status !== 503 || !answer.headers.has('Retry-After')) say(`answered with ${answer.status}`);
    await administer(`alter database "${name}" allow_connections true`);
    await new Promise((resolve) => setTimeout(resolve, 6000));
    const after = await ask(`${stand.project}/people`, owner);
    if (after.status !== 200) say(`answered with ${after.status} afterwards`);
  });
  return ways;
}

/** How a plan ended that was not there at once. */
async function ended(stand: Stand, cookie: string, { task }: { task?: string }): Promise<string> {
  if (task === undefined) return 'done';
  for (;;) {
    const answer = await fetch(`${stand.project}/tasks?task=${task}`, { headers: { Cookie: cookie } });
    const { state } = (await answer.json()) as { state: string };
    if (state !== 'waiting' && state !== 'running') return state;
    await new Promise((resolve) => setTimeout(resolve, 300));
  }
}
