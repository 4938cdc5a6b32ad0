import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { gearUnit } from '#core/testing/projects';
import { signIn } from '#server/auth/sessions';
import { AWAY_WORDS, isAway } from '#server/db/away';
import { closeDatabase, connect } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { testProject } from '#server/testing';
import { type TestedRoute, testedRoutes } from '../testing/routes';

/** Nobody listens there. */
const NOWHERE = 'postgresql://127.0.0.1:9/nothing';
/** What is answered without a look at the database. */
const WITHOUT = ['home', 'sign-in', 'sign-out', 'root'];

const there = process.env.DATABASE_URL;
let routes: TestedRoute[];
let ask: (name: string, request: Request) => Promise<Response>;
let project: string;
let cookie: string;

beforeAll(async () => {
  const tested = await testedRoutes();
  ask = tested.ask;
  routes = tested.routes.filter(({ name, loader }) => loader && !WITHOUT.includes(name));
  const made = await testProject(gearUnit());
  project = made.project;
  const signed = await signIn(made.db, new Request('http://stone.test/'), made.owner.email, 'test-password');
  cookie = signed.split(';')[0]!;
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

async function moveDatabase(url: string): Promise<void> {
  await stopJobs();
  await closeDatabase();
  process.env.DATABASE_URL = url;
}

const answersOf = async () => {
  const answers = new Map<string, { status: number; text: string }>();
  for (const { name, address } of routes) {
    if (name === 'events' && process.env.DATABASE_URL === there) continue;
    const path = address
      .replace(':projectId', project)
      .replace(':sha256', 'ab'.repeat(32))
      .replace(':gltf', 'cd'.repeat(32))
      .replace(':token', 'x'.repeat(32));
    const request = new Request(`http://stone.test${path}?path=unit.stp`, { headers: { Cookie: cookie } });
    const answer = await ask(name, request);
    answers.set(name, { status: answer.status, text: await answer.text() });
  }
  return answers;
};

describe('while the database is away', () => {
  it('every page asks for patience, and is there again afterwards', async () => {
    await moveDatabase(NOWHERE);
    const away = await answersOf();
    expect(away.size).toBeGreaterThan(30);
    for (const [name, { status, text }] of away) {
      expect(status, name).toBe(503);
      expect(text, name).toContain(AWAY_WORDS);
    }
    await moveDatabase(there!);
    for (const [name, { status }] of await answersOf()) expect(status, name).toBeLessThan(500);
  });

  it('is told from what is wrong with a question', async () => {
    const db = connect(there!);
    const errorOf = (query: PromiseLike<unknown>) =>
      Promise.resolve(query).then(
        () => undefined,
        (error) => error,
      );
    expect(isAway(await errorOf(db.raw('select nothing')))).toBe(false);
    const other = connect(there!);
    await other
      .transaction(async (trx) => {
        const { rows } = await trx.raw<{ rows: { pid: number }[] }>('select pg_backend_pid() as pid');
        await db.raw('select pg_terminate_backend(?)', [rows[0]!.pid]);
        const error = await errorOf(trx.raw('select 1'));
        expect(isAway(error), String(error)).toBe(true);
        await trx.rollback().catch(() => {});
      })
      .catch(() => {});
    await db.destroy();
    await other.destroy();
    const gone = connect(NOWHERE);
    expect(isAway(await errorOf(gone.raw('select 1')))).toBe(true);
    await gone.destroy();
    expect(isAway(Object.assign(new Error('no such file'), { code: 'ENOENT', syscall: 'open' }))).toBe(false);
  });
});
