import { createRequire } from 'node:module';
import type { AxeResults } from 'axe-core';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Stand, signedIn, stageReady, startStand } from './harness';

let stand: Stand;
let page: Page;
beforeAll(async () => {
  stand = await startStand();
  ({ page } = await signedIn(stand));
});
afterAll(() => stand?.stop());

const ENGINE = createRequire(import.meta.url).resolve('axe-core/axe.min.js');

/** WCAG 2.2 on levels A and AA, and what the engine's makers hold to be good besides. */
const RULES = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];

/** What opens above a page stands outside of its landmarks. */
const ABOVE = RULES.filter((tag) => tag !== 'best-practice');

/** What an engine finds wrong with a page as it is: one line a rule, with the places. */
async function findings(page: Page, rules = RULES): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in window))) {
    // The page lets in no script from outside: it is handed to the browser itself.
    const session = await page.context().newCDPSession(page);
    const { readFileSync } = await import('node:fs');
    await session.send('Runtime.evaluate', { expression: readFileSync(ENGINE, 'utf8') });
    await session.detach();
  }
  // What fades in or out has not the colours that it is about to have.
  await page.evaluate(async () => {
    const ends = document
      .getAnimations()
      .filter(({ effect }) => effect?.getComputedTiming().iterations !== Number.POSITIVE_INFINITY)
      .map(({ finished }) => finished.catch(() => {}));
    await Promise.race([Promise.all(ends), new Promise((resolve) => setTimeout(resolve, 2000))]);
  });
  const { violations } = await page.evaluate(
    async (tags): Promise<AxeResults> =>
      (window as unknown as { axe: typeof import('axe-core') }).axe.run(document, {
        runOnly: tags,
        resultTypes: ['violations'],
      }),
    rules,
  );
  return violations.map(
    ({ id, help, nodes }) =>
      `${id}: ${help}: ${nodes
        .slice(0, 4)
        .map(
          ({ target, failureSummary }) =>
            `${target.join(' ')} (${failureSummary?.split('\n').slice(1, 2).join('').trim()})`,
        )
        .join('; ')}`,
  );
}

/** The same in light and in dark colours. */
async function inBothColours(page: Page, rules = RULES): Promise<string[]> {
  const scheme = (colours: string) =>
    page.evaluate(
      (value) => document.documentElement.setAttribute('data-mantine-color-scheme', value),
      colours,
    );
  await scheme('light');
  const light = await findings(page, rules);
  await scheme('dark');
  // Colours fade into each other.
  await page.waitForTimeout(300);
  const dark = await findings(page, ['color-contrast']);
  await scheme('light');
  return [...light, ...dark.map((finding) => `dark: ${finding}`)];
}

const STATES: { readonly [state: string]: [address: string, ready: (page: Page) => Promise<unknown>] } = {
  files: ['files', (page) => page.getByRole('grid', { name: 'Files' }).waitFor()],
  'a file': ['files?sel=elevation%2Felevation.stp', (page) => page.getByText('Versions').waitFor()],
  structure: ['structure?sel=0.2.2', stageReady],
  'a component inside of another, in a section': [
    'structure?root=azimuth-drive%2Fazimuth-drive.stp&within=%5B%22hx-12-heliostat.stp%22%5D&sel=0.0&also=0.3&section=y:10',
    stageReady,
  ],
  'a model that is measured, pulled apart, coloured by its links': [
    'structure?sel=0.2.2',
    async (page) => {
      await stageReady(page);
      await page.getByRole('button', { name: 'Show', exact: true }).first().click();
      await page.getByRole('menuitemcheckbox', { name: 'Colours by link state' }).click();
      await page.getByRole('menuitemcheckbox', { name: 'Pull apart' }).click();
      await page.keyboard.press('Escape');
      await page.getByRole('button', { name: 'Shift' }).click();
      await page.getByRole('button', { name: 'Measure', exact: true }).click();
      await page.getByRole('region', { name: 'Measuring' }).waitFor();
    },
  ],
  'the Repair desk': ['repair', stageReady],
  renewing: ['renew', (page) => page.getByRole('heading').first().waitFor()],
  behind: ['sources', stageReady],
  split: ['split', stageReady],
  'nothing to cut': ['cut', (page) => page.getByRole('heading').first().waitFor()],
  'hand-off': ['hand-off', stageReady],
  moving: [
    `move?what=${encodeURIComponent(JSON.stringify(['standard']))}`,
    (page) => page.getByRole('grid', { name: 'Files and folders' }).waitFor(),
  ],
  deleting: [
    `delete?what=${encodeURIComponent(JSON.stringify(['standard/washer-m10.stp']))}`,
    (page) => page.getByRole('button', { name: 'Delete 1 file' }).waitFor(),
  ],
  'nothing to import': ['import', (page) => page.getByRole('heading').first().waitFor()],
  activity: ['activity', (page) => page.getByRole('heading', { name: 'Activity' }).waitFor()],
  people: ['people', (page) => page.getByRole('heading').first().waitFor()],
  'what is not there': ['again?change=none', (page) => page.getByText('404').waitFor()],
};

describe('an accessibility engine', () => {
  it.each(Object.entries(STATES))('finds nothing wrong with %s', async (_, [address, ready]) => {
    await page.goto(`${stand.project}/${address}`);
    await ready(page);
    expect(await inBothColours(page)).toEqual([]);
  });

  it('finds nothing wrong with what opens above a page', async () => {
    await page.goto(`${stand.project}/files`);
    await page.getByRole('row', { name: /worm/ }).click({ button: 'right' });
    await page.getByRole('menuitem', { name: 'Delete', exact: true }).waitFor();
    expect(await inBothColours(page, ABOVE)).toEqual([]);
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Columns' }).click();
    await page.getByRole('menuitemcheckbox', { name: 'Unit' }).waitFor();
    expect(await inBothColours(page, ABOVE)).toEqual([]);
    await page.keyboard.press('Escape');
    // It fades away.
    await page.getByRole('menuitemcheckbox').first().waitFor({ state: 'detached' });
    await page.keyboard.press('Control+k');
    await page.getByPlaceholder('Find a command').waitFor();
    expect(await inBothColours(page, ABOVE)).toEqual([]);
    await page.keyboard.press('Escape');
    await page.getByPlaceholder('Find a command').waitFor({ state: 'detached' });
    await page.keyboard.press('Shift+?');
    await page.getByRole('dialog', { name: 'Keys' }).waitFor();
    expect(await inBothColours(page, ABOVE)).toEqual([]);
    await page.keyboard.press('Escape');
    const cookies = await page.context().cookies();
    await page.context().clearCookies();
    await page.getByRole('row', { name: /ring-gear/ }).click();
    await page.getByRole('dialog', { name: 'Your session has ended' }).waitFor();
    expect(await inBothColours(page, ABOVE)).toEqual([]);
    await page.context().addCookies(cookies);
  });

  it('finds nothing wrong with the pages before a project', async () => {
    await page.goto(`${stand.address}/projects`);
    await page.getByRole('link', { name: /HX-12/ }).waitFor();
    expect(await inBothColours(page)).toEqual([]);
    const stranger = await stand.browser.newPage();
    await stranger.goto(`${stand.address}/sign-in`);
    await stranger.getByRole('button', { name: 'Sign in' }).waitFor();
    expect(await inBothColours(stranger)).toEqual([]);
    await stranger.close();
  });
});
