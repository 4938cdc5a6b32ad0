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
import { freePort } from '../scripts/postgres';
import { answering, endProcesses, startProcesses } from '../scripts/processes';

/** The whole application on a database of its own, and a browser to drive it. */
export interface Stand {
  address: string;
  browser: Browser;
  /** Address of the demo project. */
  project: string;
  stop(): Promise<void>;
}

/** How long one step of a test may take, in milliseconds: a machine under load is no finding. */
export const PATIENCE = 100_000;

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

/** Makes a database of its own beside the one that DATABASE_URL names; `npm test` provides that. */
export async function startStand(): Promise<Stand> {
  const given = process.env.DATABASE_URL;
  if (!given) throw new Error('DATABASE_URL is not set. Run these tests with: npm test e2e');
  const name = `${new URL(given).pathname.slice(1)}_${process.pid}`;
  await administer(given, `drop database if exists "${name}" with (force)`, `create database "${name}"`);
  process.env.DATABASE_URL = Object.assign(new URL(given), { pathname: `/${name}` }).toString();
  process.env.STONETRAY_DEMO = '1';
  const db = database();
  await migrate(db);
  const project = await seedDemo(db);
  await stopJobs();
  await closeDatabase();
  const port = await freePort();
  const processes: ChildProcess[] = startProcesses(port, true);
  await answering(port);
  const address = `http://localhost:${port}`;
  const browser = await startBrowser();
  return {
    address,
    browser,
    project: `${address}/projects/${project}`,
    stop: async () => {
      await browser.close();
      await endProcesses(processes);
      await closeDatabase();
      await administer(given, `drop database if exists "${name}" with (force)`);
      process.env.DATABASE_URL = given;
    },
  };
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
  const problems: string[] = [];
  page.on('pageerror', (error) => problems.push(error.message));
  page.on('console', (message) => message.type() === 'error' && problems.push(message.text()));
  await page.goto(`${stand.address}/sign-in`);
  await page.getByLabel('E-mail').fill(DEMO_USERS[who].email);
  await page.getByRole('textbox', { name: 'Password' }).fill(DEMO_USERS[who].password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL('**/projects');
  return { page, context, problems };
}

/** Waits until what was asked for last is on the screen: clicks go where they seem to go. */
export async function stageDrawn(page: Page): Promise<void> {
  for (let frames = 0; frames < 4; frames++)
    await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => resolve(null))));
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
