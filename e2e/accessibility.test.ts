import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ABOVE, inBothColours } from './accessible';
import { type Stand, signedIn, stageReady, startStand } from './harness';

let stand: Stand;
let page: Page;
beforeAll(async () => {
  stand = await startStand();
  ({ page } = await signedIn(stand));
});
afterAll(() => stand?.stop());

const DRIVE = encodeURIComponent('azimuth-drive/azimuth-drive.stp');

/** What costs a long plan is looked at where it is made (give-away-less). */
const STATES: {
  readonly [state: string]: [address: string, ready: (page: Page) => Promise<unknown>];
} = {
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
  'several files handed over': [
    `hand-off?root=${DRIVE}&also=${encodeURIComponent(JSON.stringify(['drawings/az-lid.svg']))}`,
    stageReady,
  ],
  'a mesh': ['look?path=control%2Fcontrol-box.obj', stageReady],
  presets: ['presets', (page) => page.getByRole('grid', { name: 'Assemblies and parts' }).waitFor()],
  'nothing published': ['published', (page) => page.getByRole('heading').first().waitFor()],
  'no lite model to be used': ['stand-in', (page) => page.getByRole('heading').first().waitFor()],
  'no lite model of a file': [
    `stand-in?file=${DRIVE}`,
    (page) => page.getByText('has no lite model').first().waitFor(),
  ],
  moving: [
    `move?what=${encodeURIComponent(JSON.stringify(['standard']))}`,
    (page) => page.getByRole('grid', { name: 'Files and folders' }).waitFor(),
  ],
  deleting: [
    `delete?what=${encodeURIComponent(JSON.stringify(['standard/washer-m10.stp']))}`,
    (page) => page.getByRole('button', { name: 'Delete 1 file' }).waitFor(),
  ],
  'nothing to import': ['import', (page) => page.getByRole('heading').first().waitFor()],
  'used in': [
    'used-in?file=%5B%22standard%2Fscrew-m6x20.stp%22%5D',
    (page) => page.getByRole('grid', { name: 'Used in' }).waitFor(),
  ],
  map: ['map', (page) => page.getByRole('button', { name: /^azimuth-drive.stp, assembly/ }).waitFor()],
  'bill of materials': [
    'bill-of-materials',
    (page) => page.getByRole('treegrid', { name: 'Bill of materials' }).getByText('Pedestal post').waitFor(),
  ],
  advice: [
    'advice',
    async (page) => {
      await page
        .getByText(/holds 52 bodies/)
        .first()
        .click();
      await page.getByText('Why it matters').waitFor();
    },
  ],
  'nothing to put out': [
    'put-out',
    (page) => page.getByRole('heading', { name: 'Nothing to put out' }).waitFor(),
  ],
  'taking in': ['take-in', (page) => page.getByRole('button', { name: /^Take \d+ files in$/ }).waitFor()],
  arranging: [
    'arrange',
    (page) => page.getByRole('treegrid', { name: 'Components of the assembly' }).waitFor(),
  ],
  placing: [
    'place?do=place-again',
    (page) => page.getByRole('treegrid', { name: 'Components of the assembly' }).waitFor(),
  ],
  'placing by hand': [
    'place?file=azimuth-drive%2Fazimuth-drive.stp&do=set-placement',
    async (page) => {
      await page.getByRole('row', { name: /^Output flange/ }).click();
      await page.getByRole('radiogroup', { name: 'By hand' }).getByText('Lay on a face').click();
      await page.getByText('Click a face of Output flange').waitFor();
    },
  ],
  replacing: [
    'replace',
    (page) => page.getByRole('treegrid', { name: 'Components of the assembly' }).waitFor(),
  ],
  'components of bodies': [
    'make-components',
    (page) => page.getByRole('grid', { name: 'Loose bodies' }).waitFor(),
  ],
  renaming: ['rename', (page) => page.getByRole('grid', { name: 'Parts' }).waitFor()],
  attaching: [
    'attach?what=%5B%22reports%2Fframe-stiffness.md%22%5D',
    (page) => page.getByRole('grid', { name: 'Files to attach' }).waitFor(),
  ],
  'all links': ['links', (page) => page.getByRole('grid', { name: 'Links' }).waitFor()],
  'what a file gives away': [
    'gives-away',
    (page) => page.getByRole('grid', { name: 'What can be told' }).waitFor(),
  ],
  'a package to be checked': ['check-package', (page) => page.getByRole('heading').first().waitFor()],
  'a step back': ['activity?step=undo', (page) => page.getByText('Takes back').waitFor()],
  activity: ['activity', (page) => page.getByRole('heading', { name: 'Activity' }).waitFor()],
  'the project itself': ['settings', (page) => page.getByRole('heading').first().waitFor()],
  people: ['people', (page) => page.getByRole('heading').first().waitFor()],
  'what is not there': ['again?change=none', (page) => page.getByText('404').waitFor()],
};

/** As on a telephone, enlarged twice, and on a small notebook. */
const SIZES = [
  [640, 400],
  [390, 800],
  [1024, 700],
] as const;

/** What is cut off or of no use where a page is small: tables and models get 300 pixels, and nothing is wider than the page. */
async function tooSmall(page: Page): Promise<string[]> {
  const found: string[] = [];
  for (const [width, height] of SIZES) {
    await page.setViewportSize({ width, height });
    const least = width <= 760 || height <= 560 ? 299 : 150;
    // What follows the size is drawn a moment later.
    const look = () =>
      page.evaluate((leastHigh) => {
        const { scrollWidth } = document.documentElement;
        const wide = scrollWidth > innerWidth + 1 ? [`the page is ${scrollWidth} wide`] : [];
        const low = [...document.querySelectorAll('[data-testid=ledger], canvas')].flatMap((element) => {
          const { width: across, height: high } = element.getBoundingClientRect();
          return across > 0 && high < leastHigh
            ? [`${element.getAttribute('aria-label') ?? element.tagName} is ${high} high`]
            : [];
        });
        return [...wide, ...low];
      }, least);
    let wrong = await look();
    for (let waited = 0; wrong.length > 0 && waited < 10; waited++) {
      await page.waitForTimeout(100);
      wrong = await look();
    }
    found.push(...wrong.map((what) => `${width} x ${height}: ${what}`));
  }
  await page.setViewportSize({ width: 1280, height: 800 });
  return found;
}

describe('an accessibility engine', () => {
  it.each(Object.entries(STATES))('finds nothing wrong with %s', async (_, [address, ready]) => {
    await page.goto(`${stand.project}/${address}`);
    await ready(page);
    expect(await inBothColours(page)).toEqual([]);
    expect(await tooSmall(page)).toEqual([]);
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
    await page.getByRole('menuitemcheckbox').first().waitFor({ state: 'detached' });
    await page.keyboard.press('Control+k');
    await page.getByPlaceholder('Find a file, a part, a link or a command').waitFor();
    expect(await inBothColours(page, ABOVE)).toEqual([]);
    await page.keyboard.press('Escape');
    await page.getByPlaceholder('Find a file, a part, a link or a command').waitFor({ state: 'detached' });
    await page.keyboard.press('Shift+?');
    await page.getByRole('dialog', { name: 'Keys' }).waitFor();
    expect(await inBothColours(page, ABOVE)).toEqual([]);
    await page.keyboard.press('Escape');
    await page.goto(`${stand.project}/structure`);
    await stageReady(page);
    await page.getByRole('button', { name: 'View', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Kept views…' }).click();
    await page.getByRole('dialog', { name: 'Kept views' }).getByText('No view is kept yet.').waitFor();
    expect(await inBothColours(page, ABOVE)).toEqual([]);
    await page.keyboard.press('Escape');
    await page.goto(`${stand.project}/files`);
    const cookies = await page.context().cookies();
    await page.context().clearCookies();
    try {
      // What the page asks by itself may have noticed before: then a dialog stands above the row.
      await page.getByRole('row', { name: /ring-gear/ }).dispatchEvent('click');
      await page.getByRole('dialog', { name: 'Your session has ended' }).waitFor();
      expect(await inBothColours(page, ABOVE)).toEqual([]);
    } finally {
      await page.context().addCookies(cookies);
    }
  });

  it('finds nothing wrong with invitations, and with projects that rest or are gone', async () => {
    const make = async (name: string) => {
      await page.goto(`${stand.address}/projects`);
      await page.getByRole('button', { name: 'New project' }).click();
      await page.getByPlaceholder('Name of the new project').fill(name);
      await page.getByRole('button', { name: 'Create' }).click();
      await page.getByRole('link', { name: 'People' }).click();
    };
    await make('Gone');
    await page.getByLabel('Invite somebody by e-mail address').fill('nobody@demo.invalid');
    await page.getByRole('button', { name: 'Invite' }).click();
    await page.getByRole('list', { name: 'Open invitations' }).waitFor();
    expect(await inBothColours(page)).toEqual([]);
    await page.getByRole('link', { name: 'Project', exact: true }).click();
    await page.getByRole('button', { name: 'Delete it …' }).click();
    expect(await inBothColours(page)).toEqual([]);
    await page.getByLabel('Type Gone to delete it').fill('Gone');
    await page.getByRole('button', { name: 'Delete the project' }).click();
    await page.getByText('1 deleted project').waitFor();
    await make('At rest');
    await page.getByRole('link', { name: 'Project', exact: true }).click();
    await page.getByRole('button', { name: 'Archive it' }).click();
    await page.getByText('Archived', { exact: true }).waitFor();
    expect(await inBothColours(page)).toEqual([]);
    const other = await signedIn(stand, 'viewer');
    await other.page.getByRole('button', { name: 'New project' }).click();
    await other.page.getByPlaceholder('Name of the new project').fill('Shared');
    await other.page.getByRole('button', { name: 'Create' }).click();
    await other.page.getByRole('link', { name: 'People' }).click();
    await other.page.getByLabel('Invite somebody by e-mail address').fill('ines.calder@demo.invalid');
    await other.page.getByRole('button', { name: 'Invite' }).click();
    await other.page.getByRole('list', { name: 'Open invitations' }).waitFor();
    await other.context.close();
    await page.goto(`${stand.address}/projects`);
    await page.getByText('1 archived project').click();
    await page.getByText('1 deleted project').click();
    await page.getByRole('button', { name: 'Join Shared', exact: true }).waitFor();
    expect(await inBothColours(page)).toEqual([]);
    await page.getByRole('button', { name: 'Decline to join Shared' }).click();
  });

  it('finds nothing wrong with the pages before a project', async () => {
    await page.goto(`${stand.address}/projects`);
    await page.getByRole('link', { name: /HX-12/ }).waitFor();
    expect(await inBothColours(page)).toEqual([]);
    await page.goto(`${stand.address}/account`);
    await page.getByRole('heading', { name: 'Password' }).waitFor();
    expect(await inBothColours(page)).toEqual([]);
    const stranger = await stand.browser.newPage({ reducedMotion: 'reduce' });
    await stranger.goto(`${stand.address}/sign-in`);
    await stranger.getByRole('button', { name: 'Sign in' }).waitFor();
    expect(await inBothColours(stranger)).toEqual([]);
    await stranger.goto(`${stand.address}/catalogue`);
    await stranger.getByText('Nothing is offered at present.').waitFor();
    expect(await inBothColours(stranger)).toEqual([]);
    await stranger.close();
  });
});
