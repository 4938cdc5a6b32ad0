import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Stand, signedIn, startStand } from './harness';

let stand: Stand;
beforeAll(async () => {
  stand = await startStand();
});
afterAll(() => stand?.stop());

describe('an engineer who changes how an assembly is put together', () => {
  it('groups two components, dissolves the group, makes one file of a bearing, and takes all back', async () => {
    const { page, context, problems } = await signedIn(stand);
    const plan = page.getByRole('region', { name: 'What will change' });
    const grid = page.getByRole('treegrid', { name: 'Components of the assembly' });

    // 1. From the menu of the structure, with what was selected there.
    await page.goto(`${stand.project}/structure?root=azimuth-drive%2Fazimuth-drive.stp`);
    await page.getByRole('row', { name: /^Worm / }).click({ button: 'right' });
    await page.getByRole('menuitem', { name: 'Move, group, dissolve, remove or copy…' }).click();
    await expect.poll(() => grid.locator('[aria-selected=true]').count()).toBe(1);
    await page.getByText('Group', { exact: true }).click();
    await grid.getByRole('row', { name: /^Gear motor/ }).click({ modifiers: ['Control'] });
    await page.getByLabel('Name of the group').fill('Drive unit');
    await page.getByRole('button', { name: 'Group 2 components' }).click();
    await expect
      .poll(() => plan.textContent())
      .toContain('Done: Grouped 2 components of Azimuth drive as Drive unit.');
    await expect
      .poll(() => grid.getByRole('row', { name: /^Drive unit/ }).textContent())
      .toContain('2 components');

    // 2. Out of the group again.
    await page.getByText('Dissolve', { exact: true }).click();
    await grid.getByRole('row', { name: /^Drive unit/ }).click();
    await page.getByRole('button', { name: 'Dissolve 1 component' }).click();
    await expect.poll(() => plan.textContent()).toContain('Done: Dissolved Drive unit');
    await grid.getByRole('row', { name: /^Drive unit/ }).waitFor({ state: 'detached' });

    // 3. A worm that is shifted, and another part in its place, both seen before it is done; the part is called something else.
    await page.goto(`${stand.project}/structure?root=azimuth-drive%2Fazimuth-drive.stp`);
    await page.getByRole('row', { name: /^Worm / }).click({ button: 'right' });
    await page.getByRole('menuitem', { name: 'Set the placement…' }).click();
    const along = page.getByRole('textbox', { name: 'Position z' });
    await along.fill('91.5');
    await along.press('Enter');
    await page.getByRole('button', { name: 'Set 1 component there' }).click();
    await expect.poll(() => plan.textContent()).toContain('Done: Placed Worm in azimuth-drive.stp.');
    await page.goto(`${stand.project}/place?file=azimuth-drive%2Fazimuth-drive.stp&do=set-placement`);
    await grid
      .getByRole('row', { name: /^Worm worm\.stp|^Worm azim/ })
      .first()
      .click();
    await expect.poll(() => along.inputValue()).toBe('91.5 mm');

    await page.goto(`${stand.project}/structure?root=azimuth-drive%2Fazimuth-drive.stp`);
    await page.getByRole('row', { name: /^Worm / }).click({ button: 'right' });
    await page.getByRole('menuitem', { name: 'Replace by another file…' }).click();
    await page.getByRole('combobox', { name: 'By the file' }).fill('clevis');
    await page.getByRole('option', { name: /clevis-pin_20x90/ }).click();
    await page.getByRole('table', { name: 'How they differ' }).getByText('30 × 30 × 98 mm').waitFor();
    await page.getByRole('button', { name: 'Replace in 1 place' }).click();
    await expect.poll(() => plan.textContent()).toContain('Done: Replaced Worm by clevis-pin_20x90.stp');

    await page.goto(`${stand.project}/rename?file=elevation%2Fclevis-pin_20x90.stp`);
    await page.getByRole('textbox', { name: 'Name of Clevis pin 20x90' }).fill('Pin 20x90');
    await expect.poll(() => plan.textContent()).toMatch(/stand-ins? in other files follows?/);
    await page.getByRole('button', { name: 'Rename 1 part' }).click();
    await expect.poll(() => plan.textContent()).toContain('Done: Renamed Clevis pin 20x90 to Pin 20x90.');
    await page.goto(`${stand.project}/structure?root=azimuth-drive%2Fazimuth-drive.stp`);
    await page.getByRole('row', { name: /^Pin 20x90/ }).waitFor();

    // 4. A bearing of four files becomes one, and nothing is left over.
    await page.goto(`${stand.project}/take-in?file=standard%2Fbearing-6018%2Fbearing-6018.stp`);
    await page.getByRole('button', { name: 'Take 4 files in' }).waitFor();
    await page.getByLabel('Delete 4 files that nothing uses any more').check();
    await expect.poll(() => plan.textContent()).toContain('and they are deleted');
    await page.getByRole('button', { name: 'Take 4 files in' }).click();
    await expect.poll(() => plan.textContent()).toContain('Done: Took 4 files into bearing-6018.stp');
    await page.goto(`${stand.project}/files?q=ball-15`);
    await page.getByText('No file fits').waitFor();

    // 5. All of it is taken back, the last first.
    for (const summary of [
      'Took 4 files into bearing-6018.stp',
      'Renamed Clevis pin 20x90',
      'Replaced Worm',
      'Placed Worm in azimuth-drive.stp',
      'Dissolved Drive unit',
      'Grouped 2 components',
    ]) {
      await page.goto(`${stand.project}/activity`);
      const entry = page.getByRole('listitem').filter({ hasText: summary }).first();
      await entry.getByRole('button', { name: 'Undo…' }).click();
      await page.getByRole('button', { name: 'Undo it' }).click();
      await page.getByText(`Undid: ${summary}`).first().waitFor();
    }
    await page.goto(`${stand.project}/files?q=ball-15`);
    await page.getByRole('row', { name: /ball-15\.stp/ }).waitFor();
    expect(problems).toEqual([]);
    await context.close();
  });
});
