import type { ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { Client } from 'pg';
import { type Browser, type BrowserContext, chromium, type Page } from 'playwright-core';
import { DEMO_USERS } from '#demo/account';
import { seedDemo } from '#demo/seed';
import { closeDatabase, database } from '#server/db/connection';
import { migrate } from '#server/db/migrate';
import { stopJobs } from '#server/jobs/queue';
import { chromium as findChromium } from '../scripts/bootstrap.mjs';
import { templateOf } from '../scripts/postgres';
import { endProcesses, startProcesses } from '../scripts/processes';

/** The whole application on a database of its own, and a browser to drive it. */
export interface Stand {
  address: string;
  browser: Browser;
  /** Address of the demo project. */
  project: string;
  web: ChildProcess;
  worker: ChildProcess;
  stop(): Promise<void>;
}

/** How long one step of a test may take, in milliseconds: a machine under load is no finding. */
export const PATIENCE = 240_000;

/** Drawing in software, and no attempts to reach the world. */
const BROWSER_ARGUMENTS = [
  '--no-sandbox',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-quic',
  '--no-first-run',
];

export async function startBrowser(): Promise<Browser> {
  const executablePath = findChromium();
  if (!executablePath || !existsSync(executablePath))
    throw new Error('Chromium is not installed. Install the Debian package chromium.');
  return chromium.launch({ executablePath, args: BROWSER_ARGUMENTS });
}

/**
 * The application on a database of its own, beside the one that DATABASE_URL names (`npm test` provides that). It is
 * copied from one that was seeded, with all shapes made, when the first stand was asked for.
 */
export async function startStand(): Promise<Stand> {
  const given = process.env.DATABASE_URL;
  if (!given) throw new Error('DATABASE_URL is not set. Run these tests with: npm test e2e');
  const base = new URL(given).pathname.slice(1);
  const [template, name] = [templateOf(base), `${base}_${process.pid}`];
  const at = (database: string) => Object.assign(new URL(given), { pathname: `/${database}` }).toString();
  process.env.STONETRAY_DEMO = '1';
  process.env.DATABASE_URL = at(template);
  await ensureTemplate(given, template);
  process.env.DATABASE_URL = at(name);
  await administer(
    given,
    `drop database if exists "${name}" with (force)`,
    `create database "${name}" template "${template}"`,
  );
  const project = await database()('projects').first('id');
  await closeDatabase();
  const { processes, port } = startProcesses(0);
  const address = `http://localhost:${await port}`;
  const browser = await startBrowser();
  return {
    address,
    browser,
    project: `${address}/projects/${project!.id}`,
    web: processes[0]!,
    worker: processes[1]!,
    stop: async () => {
      await browser.close();
      await endProcesses(processes);
      await closeDatabase();
      await administer(given, `drop database if exists "${name}" with (force)`);
      process.env.DATABASE_URL = given;
    },
  };
}

/** Seeds the database that stands are copied from, and has the job worker make all shapes, unless it is there. */
async function ensureTemplate(given: string, template: string): Promise<void> {
  // Files of tests run side by side: one makes it, the others wait. The lock goes with the connection.
  const admin = new Client({ connectionString: given });
  await admin.connect();
  try {
    await admin.query('select pg_advisory_lock(hashtext($1))', [template]);
    const { rowCount } = await admin.query('select 1 from pg_database where datname = $1', [template]);
    if (!rowCount) await makeTemplate(given, template);
  } finally {
    await admin.end();
  }
}

async function makeTemplate(given: string, template: string): Promise<void> {
  const making = `${template}_making`;
  const target = process.env.DATABASE_URL!;
  process.env.DATABASE_URL = Object.assign(new URL(given), { pathname: `/${making}` }).toString();
  await administer(given, `drop database if exists "${making}" with (force)`, `create database "${making}"`);
  const db = database();
  await migrate(db);
  await seedDemo(db);
  await stopJobs();
  const { processes } = startProcesses(0);
  try {
    for (let waited = 0; ; waited += 500) {
      const open = await db('shapes').whereIn('state', ['waiting', 'running']).first('sha256');
      if (!open) break;
      if (waited > 5 * PATIENCE)
        throw new Error('The job worker does not get through with the shapes of the demo.');
      await new Promise((resolve) => setTimeout(resolve, 500));
    }
  } finally {
    await endProcesses(processes);
    await closeDatabase();
  }
  // Under its own name only when it is whole.
  await administer(given, `alter database "${making}" rename to "${template}"`);
  process.env.DATABASE_URL = target;
}

async function administer(url: string, ...statements: string[]): Promise<void> {
  const client = new Client({ connectionString: url });
  await client.connect();
  for (const statement of statements) await client.query(statement);
  await client.end();
}

/** Signs in through the page. Errors of the page's scripts fail the test. */
export async function signedIn(
  stand: Stand,
  who: keyof typeof DEMO_USERS = 'engineer',
): Promise<{ page: Page; context: BrowserContext; problems: string[] }> {
  const context = await stand.browser.newContext({
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    reducedMotion: 'reduce',
  });
  context.setDefaultTimeout(PATIENCE);
  const page = await context.newPage();
  answersFirst(page);
  const problems: string[] = [];
  page.on('pageerror', ({ message }) => problems.push(message));
  page.on('console', (message) => message.type() === 'error' && problems.push(message.text()));
  await page.goto(`${stand.address}/sign-in`);
  await page.getByLabel('E-mail').fill(DEMO_USERS[who].email);
  await page.getByRole('textbox', { name: 'Password' }).fill(DEMO_USERS[who].password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL('**/projects');
  return { page, context, problems };
}

/** A page is there when it answers: what is clicked before its scripts run is lost. */
function answersFirst(page: Page): void {
  const answers = async () => {
    await page.waitForFunction(
      () => document.scripts.length === 0 || document.documentElement.dataset.ready === '1',
      null,
      { timeout: PATIENCE },
    );
  };
  const [goto, reload] = [page.goto.bind(page), page.reload.bind(page)];
  page.goto = async (...given) => {
    const answer = await goto(...given);
    await answers();
    return answer;
  };
  page.reload = async (...given) => {
    const answer = await reload(...given);
    await answers();
    return answer;
  };
}

/** Waits until what was asked for last is on the screen: clicks go where they seem to go. */
export async function stageDrawn(page: Page): Promise<void> {
  const frames = async (count: number) => {
    for (let n = 0; n < count; n++)
      await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => resolve(null))));
  };
  await frames(2);
  await page.waitForFunction(
    () => document.querySelector<HTMLElement>('[data-testid=stage]')?.dataset.busy !== '1',
    null,
    { timeout: PATIENCE },
  );
  await frames(2);
}

/** Waits until every body that the stage asked for is drawn. */
export async function stageReady(page: Page): Promise<{ bodies: number; drawCalls: number }> {
  await page.waitForFunction(
    () => {
      const stage = document.querySelector<HTMLElement>('[data-testid=stage]');
      return stage?.dataset.left === '0' && Number(stage.dataset.bodies) > 0;
    },
    null,
    { timeout: PATIENCE },
  );
  await stageDrawn(page);
  const data = await page.getByTestId('stage').evaluate((stage) => ({ ...(stage as HTMLElement).dataset }));
  return { bodies: Number(data.bodies), drawCalls: Number(data.drawCalls) };
}
