import { copyFileSync, mkdirSync, mkdtempSync, rmSync, truncateSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { seedGivenOut } from '#demo/seed';
import { closeDatabase, database } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { signedIn, stageDrawn, stageReady, startStand } from '../e2e/harness';
import { ROOT } from './bootstrap.mjs';
import { dropDatabase, ensureDatabase, startPostgres, templateOf } from './postgres';
import { buildIfStale } from './processes';

const NAME = 'stonetray_pictures';

/** Takes one picture of each main view, on a demo of its own. */
export async function screenshots(): Promise<void> {
  const folder = path.join(ROOT, 'docs/screenshots');
  mkdirSync(folder, { recursive: true });
  const cluster = await startPostgres();
  process.env.DATABASE_URL = await ensureDatabase(cluster, NAME, true);
  // One that a run left which was cut off is of another day.
  await dropDatabase(cluster, templateOf(NAME));
  buildIfStale();
  const stand = await startStand();
  try {
    const { page } = await signedIn(stand);
    await page.goto(`${stand.project}/files`);
    await page.getByText('Preparing shapes').waitFor({ state: 'detached', timeout: 120_000 });
    const take = async (name: string) => {
      await page.waitForTimeout(1500);
      // Where a stage is drawn in software, its still picture comes last.
      await page.waitForFunction(
        () => [...document.querySelectorAll('canvas')].every(({ dataset }) => dataset.fine !== '0'),
        null,
        { timeout: 20_000 },
      );
      await page.screenshot({ path: path.join(folder, `${name}.png`) });
      console.log(name);
    };

    await page.goto(`${stand.project}/structure?sel=0.2.2`);
    await stageReady(page);
    await turn(page, -330, -50);
    await take('structure');
    await page.goto(`${stand.project}/structure?root=azimuth-drive/azimuth-drive.stp&sel=0.3`);
    await stageReady(page);
    await page.getByRole('button', { name: 'Section' }).click();
    await take('section');
    await page.getByRole('button', { name: 'Section', exact: true }).click();
    await shift(page, stand.project);
    await take('place');
    await page.goto(`${stand.address}/projects`);
    await page.getByRole('img').first().waitFor();
    await take('projects');
    await page.goto(`${stand.project}/repair`);
    await stageReady(page);
    await take('repair-desk');
    await page.goto(`${stand.project}/split`);
    await stageReady(page);
    await page.getByLabel('Name of component 1', { exact: true }).fill('Main tube');
    await page.keyboard.press('Enter');
    await take('split');
    await cutRib(page, stand.project);
    await take('cut');
    await page.goto(`${stand.project}/hand-off?prefix=HX-&flatten=1`);
    await stageReady(page);
    await take('hand-off');
    await giveLess(page, stand.project, take);
    await page.goto(`${stand.project}/files?sel=elevation%2Felevation.stp`);
    await take('files');
    await page.goto(`${stand.project}/map?sel=azimuth-drive%2Fazimuth-drive.stp`);
    await page.getByRole('button', { name: /^azimuth-drive.stp, assembly/ }).waitFor();
    await take('map');
    await page.goto(`${stand.project}/bill-of-materials`);
    await page.getByText('Pedestal post', { exact: true }).click();
    await page.getByRole('combobox', { name: 'Material of 1 part' }).fill('Stainless steel');
    await page.getByText('1 file written anew').waitFor();
    await take('bill-of-materials');
    await page.goto(`${stand.project}/advice`);
    await page
      .getByText(/holds 52 bodies/)
      .first()
      .click();
    await take('advice');
    await page.goto(`${stand.address}/projects`);
    await take('projects');
    await sendSome(page, stand.project);
    await take('import');
    await frameRenewed(page, stand.project);
    await take('sources');
    await page.goto(`${stand.project}/structure?root=mirror/mirror.stp`);
    await page.getByRole('button', { name: 'Dark colours' }).click();
    await stageReady(page);
    await turn(page, 150, -120);
    await take('dark');
    await page.getByRole('button', { name: 'Light colours' }).click();
    // A second project, of which the catalogue offers something.
    await seedGivenOut(database());
    await stopJobs();
    await closeDatabase();
    await page.goto(`${stand.address}/catalogue`);
    await page.getByRole('link', { name: /Azimuth drive/ }).click();
    await page.getByRole('button', { name: 'Turn, cut open and measure it' }).click();
    await stageReady(page);
    await take('receiver');
  } finally {
    await stand.stop();
    await dropDatabase(cluster, NAME);
    await dropDatabase(cluster, templateOf(NAME));
    if (cluster.started) cluster.stop();
  }
}

/** Cuts a rib of the frame along a drawn line, and starts on the next cut. */
async function cutRib(page: Page, project: string): Promise<void> {
  await page.goto(`${project}/split`);
  await page.getByRole('row', { name: /rib-L280/ }).click();
  await page.getByRole('link', { name: 'Cut this body' }).click();
  await page.waitForURL('**/cut?**');
  await page.getByText('Pick the flat face to lay the plane on.').waitFor();
  await stageReady(page);
  const stage = (await page.getByTestId('stage').boundingBox())!;
  const [x, y] = [stage.x + stage.width / 2, stage.y + stage.height / 2];
  await page.mouse.click(x, y);
  await page.getByText('Click where the line starts.').waitFor();
  await stageDrawn(page);
  await page.mouse.click(x - 60, y - 30);
  await page.mouse.click(x, y + 40);
  await page.getByRole('button', { name: 'Try the cut' }).click();
  await page.getByRole('region', { name: 'Pieces' }).waitFor();
  await stageReady(page);
  await lookFrom(page, 'Corner');
  await stageDrawn(page);
  await page.mouse.click(x + 80, y + 30);
  await page.getByText('Click where the line starts.').waitFor();
  await stageDrawn(page);
  await page.mouse.click(x + 120, y - 40);
  await page.mouse.click(x + 160, y + 60);
  await lookFrom(page, 'Corner');
}

/** Drags the ring gear out of the drive. */
async function shift(page: Page, project: string): Promise<void> {
  await page.goto(`${project}/place?file=azimuth-drive/azimuth-drive.stp&do=set-placement`);
  await stageReady(page);
  await page.getByRole('row', { name: /^Ring gear 72/ }).click();
  await page.getByRole('radiogroup', { name: 'By hand' }).getByText('Shift').click();
  await page.getByText('Drag an arrow.').waitFor();
  await stageDrawn(page);
  const stage = (await page.getByTestId('stage').boundingBox())!;
  const [x, y] = [stage.x + stage.width * 0.418, stage.y + stage.height * 0.41];
  await page.mouse.move(x, y);
  await page.waitForTimeout(500);
  await page.mouse.down();
  for (const up of [40, 80, 120, 150]) {
    await page.mouse.move(x, y - up);
    await page.waitForTimeout(200);
  }
  await page.mouse.up();
  await page.getByRole('button', { name: 'Set 1 component there', disabled: false }).waitFor();
  await stageReady(page);
}

/** The drive as a lite model with its flange kept, the field unit turned by its axes, the actuator sealed. */
async function giveLess(page: Page, project: string, take: (name: string) => Promise<void>): Promise<void> {
  const drive = encodeURIComponent('azimuth-drive/azimuth-drive.stp');
  await page.goto(`${project}/lite?file=${drive}&tab=faces&section=-y:0`);
  await page
    .getByRole('button', { name: /^Keep: 12 holes/ })
    .first()
    .click();
  await page.getByText('Report', { exact: true }).click();
  await page.getByText('1 of 1 identical').waitFor();
  await bothReady(page);
  await take('lite');
  await page.goto(`${project}/groups`);
  await page.getByText('1 new file').waitFor();
  await stageReady(page);
  for (const [n, presses] of [40, 25].entries()) {
    await page.getByRole('slider').nth(n).focus();
    for (let press = 0; press < presses; press++) await page.keyboard.press('ArrowRight');
  }
  await stageDrawn(page);
  await take('groups');
  await page.goto(`${project}/seal?file=${encodeURIComponent('bought/actuator-la-300.stp')}&section=y:6`);
  await page.getByRole('region', { name: 'Proof' }).waitFor();
  await bothReady(page);
  await page.getByRole('region', { name: 'Proof' }).scrollIntoViewIfNeeded();
  await take('seal');
}

/** Waits until two stages have all their bodies. */
async function bothReady(page: Page): Promise<void> {
  await page.waitForFunction(
    () => {
      const stages = [...document.querySelectorAll<HTMLElement>('[data-testid=stage]')];
      return (
        stages.length === 2 &&
        stages.every(({ dataset }) => dataset.left === '0' && Number(dataset.bodies) > 0)
      );
    },
    null,
    { timeout: 120_000 },
  );
}

async function lookFrom(page: Page, direction: string): Promise<void> {
  await page.getByRole('button', { name: 'View', exact: true }).click();
  await page.getByRole('menuitem', { name: direction }).click();
}

/** Sends a lid that was missed, a newer frame, and half a file: what they would change is shown. */
async function sendSome(page: Page, project: string): Promise<void> {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'stonetray-pictures-'));
  const files = path.join(ROOT, 'demo/files');
  for (const [from, to] of [
    ['hx-12/azimuth-drive/az-lid_rev-b.stp', 'azimuth-drive/az-lid.stp'],
    ['later/mirror-frame.stp', 'mirror/mirror-frame.stp'],
    ['hx-12/standard/washer-m10.stp', 'standard/washer-m12.stp'],
  ] as const) {
    mkdirSync(path.dirname(path.join(folder, to)), { recursive: true });
    copyFileSync(path.join(files, from), path.join(folder, to));
  }
  truncateSync(path.join(folder, 'standard/washer-m12.stp'), 2000);
  await page.goto(`${project}/files`);
  await page.getByTestId('import-folder').setInputFiles(folder);
  await page.getByRole('button', { name: 'Import 3 files' }).waitFor();
  rmSync(folder, { recursive: true });
}

/** Splits the frame, imports its second issue over it, and shows what that means for the files that came out of it. */
async function frameRenewed(page: Page, project: string): Promise<void> {
  await page.goto(`${project}/split`);
  await page.getByRole('button', { name: 'Split off 52 bodies' }).click();
  await page.getByRole('link', { name: 'Open the assembly' }).waitFor();
  const later = mkdtempSync(path.join(os.tmpdir(), 'stonetray-pictures-'));
  mkdirSync(path.join(later, 'mirror'));
  copyFileSync(
    path.join(ROOT, 'demo/files/later/mirror-frame.stp'),
    path.join(later, 'mirror/mirror-frame.stp'),
  );
  await page.goto(`${project}/files`);
  await page.getByTestId('import-folder').setInputFiles(later);
  await page.getByRole('button', { name: 'Import 1 file' }).click();
  await page.getByText('Done: Imported').waitFor({ timeout: 60_000 });
  rmSync(later, { recursive: true });
  await page.getByText('Preparing shapes').waitFor({ state: 'detached', timeout: 120_000 });
  await page.goto(`${project}/sources`);
  await stageReady(page);
}

/** Drags over the stage, in pixels. */
async function turn(page: Page, x: number, y: number): Promise<void> {
  const box = (await page.getByTestId('stage').boundingBox())!;
  const [fromX, fromY] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(fromX, fromY);
  await page.mouse.down();
  await page.mouse.move(fromX + x / 2, fromY + y / 2, { steps: 4 });
  await page.mouse.move(fromX + x, fromY + y, { steps: 4 });
  await page.mouse.up();
  await page.mouse.move(box.x + 20, box.y + box.height - 20);
  await page.waitForTimeout(800);
  await page.getByRole('button', { name: 'Fit all' }).click();
  await page.waitForTimeout(800);
}
