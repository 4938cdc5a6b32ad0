import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openPackage } from '#core/jobs/handoff/open-package';
import { reportOf } from '#core/jobs/scan/scan-report';
import { type Stand, signedIn, stageReady, startStand } from './harness';

const DEMO = path.join(import.meta.dirname, '../demo/files/hx-12');
let stand: Stand;
let folder: string;

beforeAll(async () => {
  folder = await mkdtemp(path.join(os.tmpdir(), 'stonetray-e2e-'));
  stand = await startStand();
});
afterAll(async () => {
  await stand?.stop();
  await rm(folder, { recursive: true, force: true });
});

/** All bodies of the demo have been meshed. */
async function shapesReady(page: Page): Promise<void> {
  await page.goto(`${stand.project}/files`);
  await page.getByText('Preparing shapes').waitFor({ state: 'detached' });
}

describe('an engineer', () => {
  it('sees at a glance which project has broken links', async () => {
    const { page, context, problems } = await signedIn(stand);
    const project = page.getByRole('listitem').filter({ hasText: 'HX-12 heliostat' });
    await expect.poll(() => project.textContent()).toContain('3 missing');
    expect(await project.textContent()).toContain('1 ambiguous');
    expect(problems).toEqual([]);
    await context.close();
  });

  it('reads the structure beside the model, and what is selected in one is selected in the other', async () => {
    const { page, context, problems } = await signedIn(stand);
    await shapesReady(page);
    await page.getByRole('link', { name: 'Structure' }).click();
    const { bodies, drawCalls } = await stageReady(page);
    expect(bodies).toBeGreaterThan(90);
    expect(drawCalls).toBeLessThanOrEqual(2 * bodies + 1);
    await page.getByText('177 occurrences of 28 distinct parts').waitFor();

    // From the table to the model, with the keyboard.
    await page.getByRole('row', { name: /Pedestal post/ }).click();
    await page.getByRole('complementary').getByText('HX12-110').waitFor();
    await page.getByTestId('ledger').focus();
    await page.keyboard.press('ArrowUp');
    await page.getByRole('complementary').getByText('HX12-100').waitFor();
    await page.keyboard.press('ArrowLeft');
    await page.getByRole('row', { name: /Pedestal post/ }).waitFor({ state: 'detached' });
    await page.keyboard.press('ArrowRight');
    await page.getByRole('row', { name: /Pedestal post/ }).waitFor();

    // From the model to the table: one of the panels, in the corner view.
    const stage = (await page.getByTestId('stage').boundingBox())!;
    await page.mouse.click(stage.x + stage.width * 0.51, stage.y + stage.height * 0.377);
    await expect
      .poll(() => page.getByRole('row', { selected: true }).textContent())
      .toContain('Mirror panel');

    // Hidden with the address, shown again.
    await page.getByRole('button', { name: 'Hide' }).click();
    await page.getByText('1 row hidden').waitFor();
    expect(page.url()).toContain('hidden=');
    await page.getByRole('button', { name: 'Show all' }).click();

    // The filter keeps what is above a fit.
    await page.keyboard.press('/');
    await page.keyboard.type('ball');
    await page.getByRole('row', { name: /Ball 15/ }).waitFor();
    await page.getByRole('row', { name: /Azimuth drive/ }).waitFor();
    await expect.poll(() => page.getByRole('row', { name: /Pedestal/ }).count()).toBe(0);
    expect(problems).toEqual([]);
    await context.close();
  });

  it('repairs what is broken, sees the change before it is made, and can undo it', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.project}/hand-off`);
    await page.getByText('3 broken links').first().waitFor();
    expect(await page.getByRole('button', { name: 'Write the package' }).isDisabled()).toBe(true);
    await page.getByRole('link', { name: 'Repair them first' }).click();

    const plan = page.getByRole('region', { name: 'What will change' });
    await expect.poll(() => plan.textContent()).toContain('az-lid.stp becomes az-lid_rev-b.stp');
    await page
      .getByRole('radio', { name: /az-lid_rev-b/ })
      .getByText('Product id HX12-211')
      .waitFor();
    await stageReady(page);
    // The assembly and the drawing miss the same file.
    const repair = page.getByRole('button', { name: /^Repair (the link|2 links)$/ });
    await repair.click();
    await expect.poll(() => page.getByRole('heading', { level: 1 }).textContent()).toBe('2 broken links');

    await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(() => page.getByRole('heading', { level: 1 }).textContent()).toBe('4 broken links');
    await page.getByRole('button', { name: /Housing lid/ }).click();
    for (const left of ['2 broken links', '1 broken link', 'Every link is sound']) {
      await repair.click();
      await expect.poll(() => page.getByRole('heading', { level: 1 }).textContent()).toBe(left);
    }
    expect(problems).toEqual([]);
    await context.close();
  });

  it('packages the assembly; the package is whole and opens in a new project with every link sound', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.project}/hand-off`);
    await page.getByLabel('Prefix').fill('HX-');
    await page.getByRole('switch', { name: 'All in one folder' }).click();
    await page.getByRole('row', { name: /HX-az-housing\.stp/ }).waitFor();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Write the package' }).click(),
    ]);
    const zip = path.join(folder, download.suggestedFilename());
    await download.saveAs(zip);
    expect(path.basename(zip)).toBe('HX-hx-12-heliostat.zip');
    const opened = await openPackage(await readFile(zip));
    expect(opened.problems).toEqual([]);
    expect(reportOf(opened.project).totals).toMatchObject({ occurrences: 177, missing: 0, ambiguous: 0 });

    await page.goto(`${stand.address}/projects`);
    await page.getByRole('button', { name: 'New project' }).click();
    await page.getByPlaceholder('Name of the new project').fill('Received');
    await page.getByRole('button', { name: 'Create' }).click();
    await page.getByText('Start here').waitFor();
    await page.getByTestId('import-files').setInputFiles(zip);
    await page.getByText('all 37 files match their checksums').waitFor();
    await page.getByText('No link breaks by this').waitFor();
    await page.getByRole('button', { name: 'Import 37 files' }).click();
    await page.getByText('37 new files.').waitFor();
    await page.getByRole('link', { name: 'Structure' }).click();
    await page.getByText('177 occurrences').waitFor();
    await stageReady(page);
    expect(await page.getByTitle(/broken links?$/).count()).toBe(0);
    expect(problems).toEqual([]);
    await context.close();
  });

  it('imports a folder, and a broken file in it fails alone', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.getByRole('button', { name: 'New project' }).click();
    await page.getByPlaceholder('Name of the new project').fill('From a folder');
    await page.getByRole('button', { name: 'Create' }).click();
    await page.getByTestId('import-folder').setInputFiles(DEMO);
    const entries = await readdir(DEMO, { recursive: true, withFileTypes: true });
    const files = entries.filter((entry) => entry.isFile()).length;
    await page.getByRole('button', { name: `Import ${files} files` }).click();
    await page.getByText(`${files} new files.`).waitFor();
    await page.getByRole('link', { name: 'Open Files' }).click();
    await page.getByTestId('import-files').setInputFiles({
      name: 'half.stp',
      mimeType: 'text/plain',
      buffer: (await readFile(path.join(DEMO, 'standard/washer-m10.stp'))).subarray(0, 2000),
    });
    await page.getByText('the file ends inside').waitFor();
    await page.getByRole('button', { name: 'Import 1 file' }).click();
    await page.getByRole('link', { name: 'Open Files' }).click();
    await page
      .getByRole('row', { name: /half\.stp/ })
      .getByText('cannot be read')
      .waitFor();
    await page.getByText('1 unreadable').waitFor();
    expect(problems).toEqual([]);
    await context.close();
  });
});

describe('a viewer', () => {
  it('may look at everything and change nothing', async () => {
    const { page, context } = await signedIn(stand, 'viewer');
    await page.goto(`${stand.project}/files`);
    await page.getByText('You may look, not change').waitFor();
    expect(await page.getByRole('button', { name: 'Import' }).count()).toBe(0);
    await page.goto(`${stand.project}/activity`);
    await page.getByText('Imported hx-12').waitFor();
    expect(await page.getByRole('button', { name: 'Undo' }).count()).toBe(0);
    // Not only hidden: the server refuses too.
    const status = await page.evaluate(
      async () =>
        (await fetch(`${location.pathname.replace('activity', 'upload')}?step=start`, { method: 'POST' }))
          .status,
    );
    expect(status).toBe(403);
    await context.close();
  });
});

describe('a stranger', () => {
  it('sees the sign-in page only, and is told when the password is wrong', async () => {
    const context = await stand.browser.newContext();
    const page = await context.newPage();
    await page.goto(`${stand.project}/structure`);
    await page.waitForURL('**/sign-in?next=*');
    await page.getByRole('textbox', { name: 'Password' }).fill('wrong');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.getByText('do not go together').waitFor();
    const response = await page.request.get(`${stand.project}/package.zip?root=hx-12-heliostat.stp`, {
      maxRedirects: 0,
    });
    expect(response.status()).toBe(401);
    await page.getByRole('textbox', { name: 'Password' }).fill('verdigris');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.waitForURL('**/structure');
    await context.close();
  });

  it('runs no script that was smuggled into a page', async () => {
    const context = await stand.browser.newContext();
    const page = await context.newPage();
    const refused: string[] = [];
    page.on('console', (message) => refused.push(message.text()));
    await page.goto(`${stand.project}/structure`);
    await page.getByRole('button', { name: 'Sign in' }).waitFor();
    const outcome = await page.evaluate(async () => {
      const script = document.createElement('script');
      script.textContent = 'document.title = "smuggled"';
      document.body.append(script);
      const image = document.createElement('img');
      image.setAttribute('onerror', 'document.title = "smuggled"');
      image.src = '/no-such-picture';
      document.body.append(image);
      await new Promise((resolve) => setTimeout(resolve, 500));
      return document.title;
    });
    expect(outcome).not.toBe('smuggled');
    expect(refused.some((text) => text.includes('Content Security Policy'))).toBe(true);
    await context.close();
  });
});
