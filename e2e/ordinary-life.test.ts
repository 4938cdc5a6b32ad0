import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEMO_USERS } from '#demo/account';
import { type Stand, signedIn, startStand } from './harness';

let stand: Stand;
beforeAll(async () => {
  stand = await startStand();
});
afterAll(() => stand?.stop());

const deleting = (path: string) => `delete?what=${encodeURIComponent(JSON.stringify([path]))}`;
/** In the bar above the table; cells say how many files use one, too. */
const summary = (page: Page) => page.getByText(/^\d+ files$/).first();

describe('many pages of one browser', () => {
  it('are all answered, and all hear of a change', async () => {
    const { context, problems } = await signedIn(stand);
    const pages: Page[] = [];
    // More than a browser keeps connections to one server.
    for (let n = 0; n < 8; n++) {
      const page = await context.newPage();
      page.on('pageerror', (error) => problems.push(error.message));
      await page.goto(`${stand.project}/files`);
      await page.getByRole('grid', { name: 'Files' }).waitFor();
      pages.push(page);
    }
    const before = await summary(pages[0]!).textContent();
    // The one that listens for all may leave.
    await pages.shift()!.close();
    const last = pages.pop()!;
    await last.goto(`${stand.project}/${deleting('reports/frame-stiffness.md')}`);
    await last.getByRole('button', { name: 'Delete 1 file' }).click();
    await last.getByText('Done: Deleted').waitFor();
    for (const page of pages) await expect.poll(() => summary(page).textContent()).not.toBe(before);
    await last.getByRole('button', { name: 'Undo' }).click();
    for (const page of pages) await expect.poll(() => summary(page).textContent()).toBe(before);
    expect(problems).toEqual([]);
    await context.close();
  });
});

describe('a connection that is lost', () => {
  it('is said, keeps the page, and work that was begun ends once', async () => {
    const { page, context } = await signedIn(stand);
    await page.goto(`${stand.project}/${deleting('standard/washer-m10.stp')}`);
    const button = page.getByRole('button', { name: 'Delete 1 file' });
    await button.waitFor();
    // The request arrives; its answer does not. The page asks again, for as long as nobody answers.
    await page.route('**/operations?*', async (route) => {
      await route.fetch();
      await context.setOffline(true);
      await route.abort('connectionfailed');
    });
    await button.click();
    await page.getByText('This browser is offline.').waitFor();
    await page.getByRole('heading', { name: 'Delete', exact: true }).waitFor();
    await page.unroute('**/operations?*');
    await context.setOffline(false);
    await page.getByText('Done: Deleted standard/washer-m10.stp').waitFor();
    await page.getByText('This browser is offline.').waitFor({ state: 'detached' });
    // However often it was asked for: once.
    await page.goto(`${stand.project}/activity`);
    expect(await page.getByText('Deleted standard/washer-m10.stp', { exact: true }).count()).toBe(1);
    await context.close();
  });

  it('is waited for by whoever goes to another page', async () => {
    const { page, context } = await signedIn(stand);
    // A page asks where the project stands as soon as its scripts run; until then its links are the browser's own.
    const isAlive = page.waitForResponse('**/standing');
    await page.goto(`${stand.project}/files`);
    await isAlive;
    await context.setOffline(true);
    // The page is told a moment later.
    await page.waitForFunction(() => !navigator.onLine);
    await page.getByRole('link', { name: 'Activity' }).click();
    await page.getByText('This browser is offline.').waitFor();
    await page.getByRole('grid', { name: 'Files' }).waitFor();
    await context.setOffline(false);
    await page.getByRole('heading', { name: 'Activity' }).waitFor();
    await context.close();
  });
});

describe('a selection of many files', () => {
  it('makes no long address, and stays over a reload, on the next page, and for whoever is given the address', async () => {
    const { page, context } = await signedIn(stand);
    await page.goto(`${stand.project}/files`);
    await page.getByRole('grid', { name: 'Files' }).focus();
    await page.keyboard.press('Home');
    const isKept = page.waitForResponse('**/kept');
    await page.keyboard.press('Shift+End');
    const move = page.getByRole('link', { name: /^Rename or move \d{2}$/ });
    await move.waitFor();
    await page.waitForURL(/also=(~|%7E)/);
    expect(page.url().length).toBeLessThan(300);
    await isKept;
    await page.reload();
    await move.waitFor();
    const count = Number((await move.textContent())!.match(/\d+/)![0]);
    await move.click();
    await page.waitForURL('**/move?**');
    const rows = (shown: Page) =>
      shown.getByRole('grid', { name: 'Files and folders' }).getAttribute('aria-rowcount');
    await expect.poll(() => rows(page)).toBe(String(count + 1));
    const other = await signedIn(stand, 'viewer');
    await other.page.goto(page.url());
    await expect.poll(() => rows(other.page)).toBe(String(count + 1));
    await context.close();
    await other.context.close();
  });
});

describe('a session that has ended', () => {
  it('is begun again where one is: the page stays, and what it asked for is done', async () => {
    const { page, context } = await signedIn(stand);
    await page.goto(`${stand.project}/${deleting('standard/screw-m8x25.stp')}`);
    const button = page.getByRole('button', { name: 'Delete 1 file' });
    await button.waitFor();
    await context.clearCookies();
    // The page may have noticed by itself already, and ask to sign in above the button.
    await button.dispatchEvent('click');
    const dialog = page.getByRole('dialog', { name: 'Your session has ended' });
    await dialog.getByRole('textbox', { name: 'Password' }).fill('not this one');
    await dialog.getByRole('button', { name: 'Sign in' }).click();
    await dialog.getByRole('alert').waitFor();
    await dialog.getByRole('textbox', { name: 'Password' }).fill(DEMO_USERS.engineer.password);
    await dialog.getByRole('button', { name: 'Sign in' }).click();
    await page.getByText('Done: Deleted standard/screw-m8x25.stp').waitFor();
    await context.close();
  });

  it('is asked for by the facts of a file, too, and leads back to the address of a page', async () => {
    const { page, context } = await signedIn(stand);
    const isAlive = page.waitForResponse('**/standing');
    await page.goto(`${stand.project}/files`);
    await isAlive;
    await context.clearCookies();
    await page.getByRole('row', { name: /az-housing/ }).dispatchEvent('click');
    const dialog = page.getByRole('dialog', { name: 'Your session has ended' });
    await dialog.getByRole('textbox', { name: 'Password' }).fill(DEMO_USERS.engineer.password);
    await dialog.getByRole('button', { name: 'Sign in' }).click();
    await page
      .getByRole('complementary', { name: /Facts about .*az-housing/ })
      .getByText('azimuth-drive.stp')
      .waitFor();
    await context.clearCookies();
    await page.goto(`${stand.project}/structure?root=mirror%2Fmirror.stp`);
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.waitForURL(/structure\?root=mirror/);
    await context.close();
  });
});

describe('dark colours', () => {
  it('follow the system until somebody chooses, are there from the first moment, and stay', async () => {
    const { page, context, problems } = await signedIn(stand);
    const colours = () => page.locator('html').getAttribute('data-mantine-color-scheme');
    await page.emulateMedia({ colorScheme: 'dark' });
    await page.goto(`${stand.project}/activity`);
    expect(await colours()).toBe('dark');
    await page.emulateMedia({ colorScheme: 'light' });
    await expect.poll(colours).toBe('light');
    await page.getByRole('button', { name: 'Dark colours' }).click();
    await expect.poll(colours).toBe('dark');
    await page.reload();
    await page.getByRole('button', { name: 'Light colours' }).waitFor();
    expect(await colours()).toBe('dark');
    // As the server sends it, before any script has run.
    const sent = await (await page.request.get(`${stand.project}/activity`)).text();
    expect(sent).toContain('data-mantine-color-scheme="dark"');
    expect(problems).toEqual([]);
    await context.close();
  });
});
