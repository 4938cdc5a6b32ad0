import { readFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { type Stand, signedIn, stageDrawn, stageReady, startStand } from './harness';

let stand: Stand;
beforeAll(async () => {
  stand = await startStand();
});
afterAll(() => stand?.stop());

describe('the keyboard', () => {
  it('leads everywhere by name, and says what else it can do', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.project}/activity`);
    await page.getByRole('heading', { name: 'Activity' }).waitFor();
    await page.keyboard.press('Control+k');
    await page.getByPlaceholder('Find a file, a part, a link or a command').fill('hand');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await page.waitForURL('**/hand-off');
    // Files, parts and links are found by the same field; the file stands first.
    await page.keyboard.press('Control+k');
    await page.getByPlaceholder('Find a file, a part, a link or a command').fill('worm');
    await page.getByRole('dialog').getByText('HX12-213').waitFor();
    await page.getByRole('dialog').getByText('worm.stp', { exact: true }).first().click();
    await page.waitForURL(/files\?sel=azimuth-drive%2Fworm\.stp/);
    await page.getByRole('complementary', { name: 'Facts about azimuth-drive/worm.stp' }).waitFor();
    await page.goto(`${stand.project}/activity`);
    await page.getByRole('heading', { name: 'Activity' }).waitFor();
    await page.keyboard.press('Shift+?');
    await page.getByRole('dialog', { name: 'Keys' }).getByText('Filter the table in view').waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    expect(problems).toEqual([]);
    await context.close();
  });

  it('walks the table of files', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.project}/files`);
    const files = page.getByRole('grid', { name: 'Files' });
    const selected = () => files.getByRole('row', { selected: true }).textContent();
    await files.focus();
    await page.keyboard.press('End');
    await expect.poll(selected).toContain('stonetray-project.json');
    await page.keyboard.press('Home');
    await page.keyboard.press('ArrowDown');
    await expect.poll(selected).toContain('az-lid_rev-b.stp');
    await page.getByRole('complementary').getByText('No other file.').first().waitFor();
    expect(problems).toEqual([]);
    await context.close();
  });
});

describe('the model', () => {
  it('is kept as it is looked at, under a name, and seen so again by whoever has the address', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.project}/structure?section=-y:12.5&colours=link`);
    await stageReady(page);
    await page
      .getByRole('row', { name: /Mirror/ })
      .first()
      .click();
    await page.getByRole('button', { name: 'Hide', exact: true }).click();
    await page.getByText('rows hidden').waitFor();
    await page.getByRole('button', { name: 'View', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Left' }).click();
    await page.getByText('Seen from the left').waitFor();
    await page.getByRole('button', { name: 'View', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Kept views…' }).click();
    await page.getByLabel('Name of what is shown now').fill('Drive, open');
    await page.getByRole('button', { name: 'Keep it' }).click();
    await page.getByRole('list', { name: 'Kept views' }).getByText('Drive, open').waitFor();

    const other = await signedIn(stand, 'viewer');
    await other.page.goto(`${stand.project}/structure?view=Drive%2C%20open`);
    await stageReady(other.page);
    await other.page.getByText('Seen from the left').waitFor();
    await other.page.getByText('rows hidden').waitFor();
    const address = new URL(other.page.url()).searchParams;
    expect([address.get('section'), address.get('colours'), address.get('view')]).toEqual([
      '-y:12.5',
      'link',
      null,
    ]);
    // Elsewhere, and there once more.
    await other.page.getByRole('button', { name: 'Show all' }).click();
    await other.page.getByRole('button', { name: 'View', exact: true }).click();
    await other.page.getByRole('menuitem', { name: 'Top' }).click();
    await other.page.getByText('Seen from above').waitFor();
    await other.page.getByRole('button', { name: 'View', exact: true }).click();
    await other.page.getByRole('menuitem', { name: 'Drive, open' }).click();
    await other.page.getByText('Seen from the left').waitFor();
    await other.page.getByText('rows hidden').waitFor();
    await other.context.close();

    await page.getByRole('button', { name: 'Take out Drive, open' }).click();
    await page.getByText('No view is kept yet.').waitFor();
    expect(problems).toEqual([]);
    await context.close();
  });

  it('is measured exactly, cut open at a place that stays in the address, and has the menu of what is picked', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.project}/structure?root=mirror%2Fmirror-panel.stp`);
    await stageReady(page);
    const stage = (await page.getByTestId('stage').boundingBox())!;
    const pickMiddle = async (button?: 'right') => {
      await stageDrawn(page);
      await page.mouse.click(stage.x + stage.width / 2, stage.y + stage.height / 2, { button });
    };
    const lookFrom = async (direction: string) => {
      await page.getByRole('button', { name: 'View', exact: true }).click();
      await page.getByRole('menuitem', { name: direction }).click();
    };
    await page.getByRole('button', { name: 'Measure', exact: true }).click();
    const measured = page.getByRole('region', { name: 'Measuring' });
    await lookFrom('Top');
    await pickMiddle();
    await measured.getByText('Area').waitFor();
    await lookFrom('Below');
    await pickMiddle();
    // The panel is ten millimetres thick; its faces are parallel.
    await measured.getByText('Between the planes').waitFor();
    expect(await measured.getByRole('button', { name: '10 mm' }).count()).toBe(1);
    expect(await measured.getByRole('button', { name: '0°' }).count()).toBe(1);
    await page.getByRole('button', { name: 'Measure', exact: true }).click();

    await page.getByRole('button', { name: 'Section', exact: true }).click();
    await page.getByRole('textbox', { name: 'Where the section lies' }).fill('120');
    await page.waitForURL(/section=-?y%3A-?120/);
    await page.reload();
    await stageReady(page);
    expect(await page.getByRole('textbox', { name: 'Where the section lies' }).inputValue()).toBe('120 mm');
    await page.getByRole('button', { name: 'Section', exact: true }).click();

    await lookFrom('Top');
    await pickMiddle('right');
    await page.getByRole('menuitem', { name: 'Rename or move' }).waitFor();
    await page.getByRole('menuitem', { name: 'Hide' }).click();
    await page.getByText('1 row hidden').waitFor();
    expect(problems).toEqual([]);
    await context.close();
  });
});

describe('people', () => {
  it('are invited, join by accepting, and the last owner stays; the project rests, goes and comes back', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.address}/projects`);
    await page.getByRole('button', { name: 'New project' }).click();
    await page.getByPlaceholder('Name of the new project').fill('Shared');
    await page.getByRole('button', { name: 'Create' }).click();
    await page.getByRole('link', { name: 'People' }).click();
    for (const email of ['nobody@demo.invalid', 'tomas.reed@demo.invalid']) {
      await page.getByLabel('Invite somebody by e-mail address').fill(email);
      await page.getByRole('button', { name: 'Invite' }).click();
      await page.getByRole('list', { name: 'Open invitations' }).getByText(email).waitFor();
    }
    const tomas = page.getByRole('listitem').filter({ hasText: 'Tomas Reed' });
    expect(await tomas.count()).toBe(0);
    const invited = await signedIn(stand, 'viewer');
    await invited.page.goto(`${stand.address}/projects`);
    await invited.page.getByRole('button', { name: 'Join Shared', exact: true }).click();
    await invited.page.getByRole('link', { name: 'People' }).waitFor();
    await page.reload();
    await tomas.waitFor();
    await page
      .getByRole('listitem')
      .filter({ hasText: 'Ines Calder' })
      .getByRole('button', { name: 'Leave the project' })
      .click();
    await page.getByText('A project needs an owner').waitFor();

    await page.getByRole('link', { name: 'Project', exact: true }).click();
    await page.getByRole('button', { name: 'Archive it' }).click();
    await page.getByText('Archived', { exact: true }).waitFor();
    await invited.page.getByText('Archived', { exact: true }).waitFor();
    const [taken] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Download' }).click(),
    ]);
    expect(taken.suggestedFilename()).toBe('Shared.zip');
    await page.getByRole('button', { name: 'Delete it …' }).click();
    await page.getByLabel('Type Shared to delete it').fill('Shared');
    await page.getByRole('button', { name: 'Delete the project' }).click();
    await page.getByText('1 deleted project').click();
    await page.getByRole('button', { name: 'Bring back Shared' }).click();
    await page.getByText('1 archived project').waitFor();
    expect(problems.filter((problem) => !/40[09]/.test(problem))).toEqual([]);
    await invited.context.close();
    await context.close();
  });
});

describe('two people at once', () => {
  it('see each other’s changes without reloading, and a stale repair changes nothing', async () => {
    const [first, second] = [await signedIn(stand), await signedIn(stand)];
    await first.page.goto(`${stand.project}/activity`);
    await first.page.getByTitle('4 broken links').waitFor();
    // The second works on a page that the first has left behind: its events are held back.
    await second.page.route('**/events', (route) => route.abort());
    await second.page.goto(`${stand.project}/repair`);
    await second.page.getByText('4 broken links').waitFor();
    await second.page.getByRole('button', { name: /Clevis pin/ }).click();
    await expect
      .poll(() => second.page.getByRole('region', { name: 'What will change' }).textContent())
      .toContain('clevis-pin_20x90.stp');

    const third = await signedIn(stand);
    await third.page.goto(`${stand.project}/repair`);
    await third.page.getByRole('button', { name: /Washer M10/ }).click();
    await expect
      .poll(() => third.page.getByRole('region', { name: 'What will change' }).textContent())
      .toContain('washer-m10.stp becomes');
    await third.page.getByRole('button', { name: 'Repair the link' }).click();
    await first.page.getByTitle('3 broken links').waitFor();

    // Same holder, another link: the file is not what the second person saw.
    await second.page.getByRole('button', { name: 'Repair the link' }).click();
    await second.page.getByText('has changed since').waitFor();
    for (const { context } of [first, second, third]) await context.close();
  });
});

describe('the activity', () => {
  it('takes a change back after saying what that does, and makes it again', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.project}/activity`);
    const entry = page.getByRole('listitem').filter({ hasText: 'Repaired 1 link' }).first();
    await entry.getByText('../norm/washer-m10.stp → ').waitFor();
    await entry.getByRole('button', { name: 'Undo…' }).click();
    await entry.getByText('Every version is kept').waitFor();
    await entry.getByRole('button', { name: 'Cancel' }).click();
    await entry.getByRole('button', { name: 'Undo…' }).click();
    await entry.getByRole('button', { name: 'Undo it' }).click();
    const undo = page.getByRole('listitem').filter({ hasText: 'Undid: Repaired 1 link' });
    await undo.waitFor();
    await page.getByTitle('4 broken links').waitFor();
    await undo.getByRole('button', { name: 'Do it again…' }).click();
    await undo.getByRole('button', { name: 'Do it again' }).click();
    await page.getByTitle('3 broken links').waitFor();
    expect(problems).toEqual([]);
    await context.close();
  });
});

describe('hostile names and contents', () => {
  it('are shown as they are and do nothing', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.getByRole('button', { name: 'New project' }).click();
    await page.getByPlaceholder('Name of the new project').fill('<img src=x onerror=alert(1)>');
    await page.getByRole('button', { name: 'Create' }).click();
    await page.getByText('Start here').waitFor();
    const name = '<b onload=alert(1)>"\'&.stp';
    const svg = '<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>';
    await page.getByTestId('import-files').setInputFiles([
      {
        name: 'top.stp',
        mimeType: 'text/plain',
        buffer: Buffer.from(
          testAssembly('TOP', [
            { written: name, id: 'X' },
            { written: '../../etc/passwd', id: 'P' },
            { written: 'https://example.test/x.stp', id: 'U' },
          ]),
        ),
      },
      {
        name: 'far.stp',
        mimeType: 'text/plain',
        buffer: Buffer.from(
          writeBoxPart({ id: 'X', name: '<script>alert(2)</script>', boxes: [{ corner: [1e6, -2e6, 5e5] }] }),
        ),
      },
      { name: 'drawing.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) },
    ]);
    await page.getByRole('button', { name: 'Import 3 files' }).click();
    await page.getByText('3 new files.').waitFor();
    await page.getByRole('link', { name: 'Links' }).click();
    await page.getByText(name).first().waitFor();
    await page.getByText('leads out of the project').first().waitFor();
    await page.getByText('never fetched').first().waitFor();

    // A part far from its origin is still found.
    await page.goto(`${page.url().replace(/\/repair.*/, '')}/structure?root=far.stp`);
    await stageReady(page);
    await page.getByText('<script>alert(2)</script>').first().waitFor();
    const inked = await page.getByTestId('stage').screenshot();
    expect(inked.length).toBeGreaterThan(8000);

    // What is downloaded is never run in the page's name.
    const drawing = await page.evaluate(async () => {
      const project = location.pathname.split('/').slice(0, 3).join('/');
      const facts = await (await fetch(`${project}/file-facts?path=drawing.svg`)).json();
      const response = await fetch(`${project}/content/${facts.versions[0].sha256}`);
      return Object.fromEntries(response.headers);
    });
    expect(drawing).toMatchObject({
      'content-type': 'application/octet-stream',
      'x-content-type-options': 'nosniff',
    });
    expect(drawing['content-disposition']).toMatch(/^attachment/);
    expect(problems).toEqual([]);
    await context.close();
  });
});

describe('the pages', () => {
  it('ship their own fonts and ask nobody else for anything', async () => {
    const { page, context } = await signedIn(stand);
    const asked: string[] = [];
    page.on('request', (request) => asked.push(new URL(request.url()).origin));
    await page.goto(`${stand.project}/structure`);
    await stageReady(page);
    const local = asked.filter((origin) => origin !== 'null');
    expect([...new Set(local)]).toEqual([stand.address]);
    expect(await page.evaluate(() => document.fonts.check("14px 'Instrument Sans Variable'"))).toBe(true);
    await context.close();
  });

  it('have their pictures in the README', () => {
    const readme = readFileSync(path.join(import.meta.dirname, '../README.md'), 'utf8');
    for (const name of [
      'structure',
      'section',
      'repair-desk',
      'split',
      'cut',
      'sources',
      'hand-off',
      'files',
      'map',
      'bill-of-materials',
      'advice',
      'projects',
      'dark',
    ])
      expect(readme).toContain(`docs/screenshots/${name}.png`);
  });
});

describe('files that are moved and deleted', () => {
  it('take their links along, keep their versions, and come back', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.project}/files?q=nut-m24`);
    await page.getByRole('row', { name: /nut-m24\.stp/ }).click();
    await page.getByRole('button', { name: 'Change' }).click();
    await page.getByRole('menuitem', { name: 'Rename or move the folder' }).click();
    await page.getByLabel('New path of standard').fill('norm');
    await page.getByText('12 files get other paths, and keep their versions.').waitFor();
    await page.getByRole('button', { name: 'Rename 12 files' }).click();
    await page.getByText('Done: Renamed standard to norm.').waitFor();
    await page.goto(`${stand.project}/files?q=nut-m24`);
    await page.getByRole('row', { name: /nut-m24\.stp/ }).click();
    await page.getByText('as standard/nut-m24.stp').waitFor();

    // One of them goes; its holder is named first.
    await page.getByRole('row', { name: /nut-m24\.stp/ }).press('Delete');
    await page.getByText('1 link in pedestal.stp will lead nowhere.').waitFor();
    await page.getByRole('button', { name: 'Delete 1 file' }).click();
    await page.getByText('Done: Deleted norm/nut-m24.stp.').waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByText('1 link in pedestal.stp will lead nowhere.').waitFor();

    // Another version of one file, whatever it is called outside.
    await page.goto(`${stand.project}/files?sel=mirror%2Fpanel-clip.stp`);
    await page.getByRole('button', { name: 'Change' }).click();
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('menuitem', { name: 'New version of this file…' }).click();
    const bytes = readFileSync(path.join(import.meta.dirname, '../demo/files/hx-12/mirror/mirror-panel.stp'));
    await (await chooser).setFiles({ name: 'other name.stp', mimeType: 'model/step', buffer: bytes });
    await page.getByRole('button', { name: 'Import 1 file' }).click();
    await page.getByText('1 new version.').waitFor();
    for (const { summary } of [{ summary: 'Imported' }, { summary: 'Renamed standard to norm' }]) {
      await page.goto(`${stand.project}/activity`);
      const entry = page.getByRole('listitem').filter({ hasText: summary }).first();
      await entry.getByRole('button', { name: 'Undo…' }).click();
      await page.getByRole('button', { name: 'Undo it' }).click();
      await page.getByText(`Undid: ${summary}`).first().waitFor();
    }
    expect(problems).toEqual([]);
    await context.close();
  });
});

describe('links that others do not follow', () => {
  it('are found by the Repair desk, renewed as one change, and taken back', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.address}/projects`);
    await page.getByRole('button', { name: 'New project' }).click();
    await page.getByPlaceholder('Name of the new project').fill('From elsewhere');
    await page.getByRole('button', { name: 'Create' }).click();
    await page.getByText('Start here').waitFor();
    await page
      .getByTestId('import-files')
      .setInputFiles(
        [
          ['top.stp', testAssembly('TOP', [{ written: 'part.stp', id: 'PART' }], 'associated')] as const,
          ['part.stp', writeBoxPart({ id: 'PART' })] as const,
        ].map(([name, bytes]) => ({ name, mimeType: 'text/plain', buffer: Buffer.from(bytes) })),
      );
    await page.getByRole('button', { name: 'Import 2 files' }).click();
    await page.getByText('2 new files.').waitFor();
    await page.getByRole('link', { name: 'Links' }).click();
    await page.getByText('1 file writes links in a form that other programs pass over.').waitFor();
    await page.getByRole('link', { name: 'Renew how links are written' }).click();
    await page.getByRole('list', { name: 'Files to renew' }).getByText('top.stp').waitFor();
    await page.getByRole('button', { name: 'Renew 1 file' }).click();
    await page.getByText('Renewed how links are written in top.stp.').waitFor();
    await page.getByRole('heading', { name: 'Every link is written as others follow it' }).waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByRole('button', { name: 'Renew 1 file' }).waitFor();
    expect(problems).toEqual([]);
    await context.close();
  });
});
