import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Stand, signedIn, stageReady, startStand } from './harness';

let stand: Stand;
beforeAll(async () => {
  stand = await startStand();
});
afterAll(() => stand?.stop());

describe('splitting the mirror frame', () => {
  it('names what matters, marks what cannot be, applies, shows the assembly, and is undone', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.project}/split`);
    const plan = page.getByRole('region', { name: 'What will change' });
    await expect
      .poll(() => plan.textContent())
      .toContain('52 bodies of 32 shapes, 2 mirrored pairs: 32 new files');
    await stageReady(page);
    const apply = plan.getByRole('button', { name: 'Split off 52 bodies' });

    // Names typed like in a spreadsheet; a bad one is marked, with a way out.
    await page.getByLabel('Name of component 1', { exact: true }).fill('Main tube');
    await page.keyboard.press('Enter');
    await expect
      .poll(() => page.evaluate(() => document.activeElement?.getAttribute('aria-label')))
      .toBe('Name of component 2');
    await page.keyboard.type('a/b');
    await page.keyboard.press('ArrowDown');
    await expect.poll(() => plan.textContent()).toContain('a/b: A name cannot hold / or \\. a-b would do.');
    expect(await apply.isDisabled()).toBe(true);
    await plan.getByRole('button', { name: 'Take the proposed names' }).click();
    await expect.poll(() => apply.isDisabled()).toBe(false);
    await page.getByText('Main tube.stp').waitFor();

    // A name typed at the body itself; labels never lie on each other.
    const layer = page.locator('[data-labels]');
    await expect.poll(async () => Number(await layer.getAttribute('data-labels'))).toBeGreaterThan(15);
    const boxes = await layer.locator('button:visible').evaluateAll((labels) =>
      labels.map((label) => {
        const { left, right, top, bottom } = label.getBoundingClientRect();
        return { left, right, top, bottom };
      }),
    );
    for (const [n, a] of boxes.entries())
      for (const b of boxes.slice(n + 1))
        expect(a.left >= b.right || a.right <= b.left || a.top >= b.bottom || a.bottom <= b.top).toBe(true);
    const label = layer.locator('button:visible').filter({ hasText: 'purlin 4L' }).first();
    await label.click();
    await page.keyboard.type('Outer purlin');
    await page.keyboard.press('Enter');
    await page.getByText('Outer purlin.stp').waitFor();

    // Bodies that belong together become one component, in another colour; then each is its own again.
    await page.getByRole('row', { name: /collar-left/ }).click();
    await page.getByRole('row', { name: /end-cap-right/ }).click({ modifiers: ['Control'] });
    await page.getByRole('button', { name: 'Make 2 bodies one component' }).click();
    await expect.poll(() => plan.textContent()).toContain('52 bodies of 31 components');
    const pair = page.getByRole('row', { name: /2 bodies/ });
    await pair.click();
    await pair.getByRole('button', { name: /^Colour of/ }).click();
    await page.getByRole('button', { name: '#1e6f66' }).click();
    await page.keyboard.press('Escape');
    await pair.getByTitle('Chosen here; the source keeps its own').waitFor();
    await page.getByRole('button', { name: 'Shift', exact: true }).click();
    await page.getByLabel('Shift along z').fill('400');
    await page.getByRole('button', { name: 'Put all back' }).click();
    await expect.poll(() => page.getByLabel('Shift along z').inputValue()).toBe('0 mm');
    await page.getByRole('button', { name: 'Shift', exact: true }).click();
    await page.getByRole('button', { name: 'Take the component apart' }).click();
    await expect.poll(() => plan.textContent()).toContain('52 bodies of 32 shapes');

    // One file a body, and back.
    await page.getByRole('combobox', { name: 'Bodies of the same shape' }).click();
    await page.getByRole('option', { name: 'A file for each body' }).click();
    await expect.poll(() => plan.textContent()).toContain('52 bodies of 52 shapes');
    await page.getByRole('combobox', { name: 'Bodies of the same shape' }).click();
    await page.getByRole('option', { name: 'Share one file' }).click();
    await expect.poll(() => plan.textContent()).toContain('52 bodies of 32 shapes');

    // What is in the way is hidden, and shown again.
    await page.getByRole('row', { name: /collar-left/ }).click();
    await page.getByRole('button', { name: 'Hide', exact: true }).click();
    await page.getByRole('button', { name: 'Show all (1 hidden)' }).click();
    await page.getByRole('button', { name: 'Hide', exact: true }).waitFor();

    // A body that stays.
    await page.getByLabel('Filter the table').fill('cable clip');
    await page.getByRole('checkbox', { name: 'Split off cable clip' }).uncheck();
    await expect.poll(() => plan.textContent()).toContain('51 bodies of 31 shapes');
    await page.getByRole('checkbox', { name: 'Split off all bodies' }).click();
    await expect.poll(() => plan.textContent()).toContain('52 bodies of 32 shapes');
    await page.getByRole('checkbox', { name: 'Split off cable clip' }).uncheck();
    await expect.poll(() => plan.textContent()).toContain('51 bodies of 31 shapes');

    // Applied: the assembly shows everything, every link is sound.
    await plan.getByRole('button', { name: 'Split off 51 bodies' }).click();
    await plan.getByRole('link', { name: 'Open the assembly' }).click();
    await page.waitForURL(/structure/);
    await expect.poll(async () => (await stageReady(page)).bodies).toBe(31);
    await page.getByRole('row', { name: /Main tube/ }).waitFor();
    expect(await page.getByText('missing', { exact: true }).count()).toBe(0);

    // Undone from the log.
    await page.getByRole('link', { name: 'Activity' }).click();
    const entry = page.getByRole('listitem').filter({ hasText: 'Split 51 bodies of mirror-frame.stp' });
    await entry.getByRole('button', { name: 'Undo…' }).click();
    await page.getByRole('button', { name: 'Undo it' }).click();
    await page.getByText('Undid: Split 51 bodies').first().waitFor();
    expect(problems).toEqual([]);
    await context.close();
  });

  it('brings a part up to its source, takes that back, and detaches it', async () => {
    const { page, context, problems } = await signedIn(stand);
    await page.goto(`${stand.project}/structure`);
    await page.getByRole('navigation', { name: 'Places' }).getByTitle('1 file behind its source').waitFor();
    await page.getByRole('link', { name: 'Links' }).click();
    await page.getByRole('link', { name: 'Behind' }).click();
    await page.getByRole('row', { name: /changed clip .*panel-clip\.stp/ }).waitFor();
    await stageReady(page);
    await page.getByRole('button', { name: 'Bring up to date' }).click();
    await page.getByText('Done: Brought up to date with panel-clip-set.stp: 1 changed').waitFor();
    await page
      .getByRole('navigation', { name: 'Places' })
      .getByTitle('1 file behind its source')
      .waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByRole('navigation', { name: 'Places' }).getByTitle('1 file behind its source').waitFor();

    await page.getByRole('button', { name: 'Detach', exact: true }).click();
    await page.getByRole('menuitem', { name: 'All 1 file' }).click();
    await page.getByText('1 file stays as it is and no longer follows').waitFor();
    await page.getByRole('button', { name: 'Detach 1 file' }).click();
    await page.getByRole('heading', { name: 'No file came out of another' }).waitFor();
    await page.getByText('Detached panel-clip.stp from panel-clip-set.stp.').waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByRole('row', { name: /panel-clip\.stp/ }).waitFor();
    expect(problems).toEqual([]);
    await context.close();
  });

  it('shows a viewer everything and lets them change nothing', async () => {
    const { page, context } = await signedIn(stand, 'viewer');
    await page.goto(`${stand.project}/split`);
    const apply = page.getByRole('button', { name: 'Split off 52 bodies' });
    await apply.waitFor();
    expect(await apply.isDisabled()).toBe(true);
    const status = await page.evaluate(async () => {
      const choices = { file: 'mirror/mirror-frame.stp' };
      const response = await fetch(`${location.pathname.replace('split', 'operations')}?for=split`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ intent: 'apply', operation: 'split', choices, seen: [] }),
      });
      return response.status;
    });
    expect(status).toBe(403);
    await context.close();
  });
});
