import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { inBothColours } from './accessible';
import { type Stand, signedIn, stageReady, startStand } from './harness';

let stand: Stand;
beforeAll(async () => {
  stand = await startStand();
});
afterAll(() => stand?.stop());

const DRIVE = encodeURIComponent('azimuth-drive/azimuth-drive.stp');

describe('an engineer who gives away less', () => {
  it('makes a lite model that keeps its flange, publishes it, and a stranger downloads it until it is withdrawn', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.project}/lite?file=${DRIVE}`);
    const figures = page.getByLabel('Before and after');
    await figures.waitFor();
    const componentsOf = async () =>
      /components\s*66\s*→\s*(\d+)/.exec((await figures.textContent()) ?? '')?.[1];
    const first = Number(await componentsOf());
    expect(first).toBeGreaterThan(20);
    expect(first).toBeLessThan(50);
    // What costs a plan is looked at by the accessibility engine here, where it is made.
    expect(await inBothColours(page)).toEqual([]);
    await page.getByText('Components', { exact: true }).first().click();
    await page.getByRole('row', { name: /Worm/ }).first().waitFor();
    expect(await inBothColours(page)).toEqual([]);
    await page.getByText('Steps', { exact: true }).first().click();

    // 1. What is only seen goes, too; the flange's bolt circle stays, to the last digit. A plan that is no longer asked for ends.
    await page.getByRole('button', { name: 'Leave out what cannot be touched from outside' }).click();
    await page.getByRole('radio', { name: 'goes' }).check();
    await page.getByText('Faces that stay', { exact: true }).click();
    await page
      .getByRole('button', { name: /^Keep: 12 holes/ })
      .first()
      .click();
    await page.getByRole('list', { name: 'Faces that stay' }).getByRole('listitem').waitFor();
    expect(await inBothColours(page)).toEqual([]);
    // What can still be told has its remedy beside it.
    await page.getByText('Report', { exact: true }).click();
    await page.getByRole('button', { name: 'Make it for outside' }).first().click();
    await page.getByText('1 of 1 identical, to the last digit').waitFor();
    await expect.poll(() => page.getByText('names of parts').count()).toBe(0);
    // What ends inside is cut off; what is seen past the flange's holes, which stay, is still there.
    await page.getByText('Cut off inside').waitFor();
    expect(Number(await componentsOf())).toBeLessThan(first + 3);
    expect(await inBothColours(page)).toEqual([]);

    // 2. Made as it was seen.
    await page.getByRole('button', { name: 'Make the lite model' }).click();
    await page.getByText(/^Done: Made azimuth-drive-lite.stp/).waitFor();

    // 3. Published, it is there for whoever has the address, without an account.
    await page.goto(`${stand.project}/published`);
    const offered = page
      .getByRole('region', { name: 'Offered' })
      .getByRole('link', { name: 'Azimuth drive' });
    const refused = page.getByRole('alert').filter({ hasText: 'still being prepared' });
    // Its shapes may still be on their way: then it is refused, and tried again.
    for (;;) {
      await page.getByRole('button', { name: 'Publish azimuth-drive/azimuth-drive-lite.stp' }).click();
      await page.getByText('can download').or(refused).first().waitFor();
      if ((await refused.count()) === 0) break;
      await page.getByRole('button', { name: 'Not now', exact: true }).click();
      await page.waitForTimeout(1000);
    }
    await page.getByLabel('Title of azimuth-drive/azimuth-drive-lite.stp').fill('Azimuth drive');
    await page.getByLabel('Part number, for ordering').fill('HX-12-AD-12');
    await page.getByLabel('Conditions, as they stand on its page').fill('For planning only.');
    await page.getByLabel('3MF, for printing').uncheck();
    await page.getByLabel('Name of 12 holes ⌀ 11 on ⌀ 210').fill('Flange');
    await page.getByRole('cell', { name: 'Flange: 12 holes ⌀ 11 on ⌀ 210' }).waitFor();
    expect(await inBothColours(page)).toEqual([]);
    await page.getByRole('button', { name: 'Publish it', exact: true }).click();
    await offered.waitFor();
    await page.getByText('up to date').waitFor();
    expect(await inBothColours(page)).toEqual([]);
    const stranger = await stand.browser.newContext({ acceptDownloads: true });
    const theirs = await stranger.newPage();
    await theirs.goto(`${stand.address}/catalogue`);
    await theirs.getByRole('link', { name: /Azimuth drive/ }).click();
    await theirs.getByText('12 holes ⌀ 11 on ⌀ 210').waitFor();
    for (const words of ['Flange', 'HX-12-AD-12', 'For planning only.'])
      await theirs.getByText(words).waitFor();
    expect(await theirs.getByRole('link', { name: '3MF, for printing' }).count()).toBe(0);
    expect(await theirs.getByRole('img').evaluate((image) => (image as HTMLImageElement).naturalWidth)).toBe(
      720,
    );
    await theirs.getByRole('button', { name: 'Turn, cut open and measure it' }).click();
    await stageReady(theirs);
    expect(await inBothColours(theirs)).toEqual([]);
    const [download] = await Promise.all([
      theirs.waitForEvent('download'),
      theirs.getByRole('link', { name: /STEP/ }).click(),
    ]);
    expect(download.suggestedFilename()).toBe('azimuth-drive-lite.stp');
    await page.reload();
    await page.getByText(/step 1/).waitFor();
    await page.getByRole('button', { name: 'Withdraw Azimuth drive' }).click();
    await page.getByText('Nothing is offered at present.').waitFor();
    const address = theirs.url();
    expect((await stranger.request.get(address)).status()).toBe(404);
    await stranger.close();

    // 4. What was done is on record.
    await page.goto(`${stand.project}/activity`);
    await page
      .getByText(/Made azimuth-drive-lite.stp/)
      .first()
      .waitFor();
    expect(problems.filter((problem) => !/status of 40[49]/.test(problem))).toEqual([]);
    await context.close();
  });

  it('drives the field unit by its two axes, and seals the actuator', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.project}/groups`);
    await page.getByText('Proposed from what touches').waitFor();
    const sliders = page.getByRole('slider');
    expect(await sliders.count()).toBe(2);
    expect(await inBothColours(page)).toEqual([]);
    await sliders.first().focus();
    for (let n = 0; n < 5; n++) await page.keyboard.press('ArrowRight');
    await expect.poll(() => sliders.first().getAttribute('aria-valuenow')).toBe('5');
    await page.getByRole('button', { name: 'Back to where it stands' }).click();
    await expect.poll(() => sliders.first().getAttribute('aria-valuenow')).toBe('0');

    await page.goto(`${stand.project}/seal?file=${encodeURIComponent('bought/actuator-la-300.stp')}`);
    const proof = page.getByRole('region', { name: 'Proof' });
    await proof.waitFor();
    await expect.poll(() => proof.textContent()).toContain('one outer shell, no inner one');
    expect(await proof.getByRole('img', { name: 'no:' }).count()).toBe(0);
    expect(await inBothColours(page)).toEqual([]);
    await page.getByRole('button', { name: 'Make the sealed solid' }).click();
    await page.getByText(/^Done: Made actuator-la-300-sealed.stp: one solid, exact/).waitFor();
    expect(problems).toEqual([]);
    await context.close();
  });
});
