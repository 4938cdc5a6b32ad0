import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Stand, signedIn, stageDrawn, stageReady, startStand } from './harness';

let stand: Stand;
beforeAll(async () => {
  stand = await startStand();
});
afterAll(() => stand?.stop());

describe('an engineer who cuts a body', () => {
  it('draws on a face, sees the pieces, cuts one again, takes that back, keeps them as components, undoes it', async () => {
    const { page, context, problems } = await signedIn(stand);
    // The frame's picture has to be there: the stage is drawn on.
    await page.goto(`${stand.project}/split`);
    await page.getByText('Preparing shapes').waitFor({ state: 'detached' });
    await page.getByRole('row', { name: /rib-L840/ }).click();
    await page.getByRole('link', { name: 'Cut this body' }).click();
    await page.waitForURL('**/cut?**');
    await stageReady(page);
    const plan = page.getByRole('region', { name: 'What will change' });
    await page.getByText('Pick the flat face to lay the plane on.').waitFor();
    await stageDrawn(page);

    // 1. A face under the pointer carries the plane; two clicks draw the line, whose points can be corrected.
    const stage = (await page.getByTestId('stage').boundingBox())!;
    const [x, y] = [stage.x + stage.width / 2, stage.y + stage.height / 2];
    await page.mouse.click(x, y);
    await page.getByText('Click where the line starts.').waitFor();
    await stageDrawn(page);
    await page.mouse.click(x - 40, y - 60);
    await page.getByText('Click where it goes on.').waitFor();
    await page.mouse.click(x + 30, y + 60);
    await page.getByText('Nothing is changed yet.').waitFor();
    expect(await page.getByRole('list', { name: 'Points of the line' }).getByRole('listitem').count()).toBe(
      2,
    );
    await page.getByRole('button', { name: 'Try the cut' }).click();
    const pieces = page.getByRole('region', { name: 'Pieces' });
    await pieces.waitFor();
    await expect.poll(() => pieces.getByRole('listitem').count()).toBe(2);
    await expect
      .poll(() => plan.textContent())
      .toContain('1 file gets a new version: mirror/mirror-frame.stp');

    // 2. One piece is cut again; a cut that misses says so and costs nothing.
    await page.getByText('A plane', { exact: true }).click();
    await page.getByLabel('Cut with').first().click();
    await page.getByRole('option', { name: 'YZ plane' }).click();
    await page.getByLabel('At x').fill('5000');
    await page.getByRole('button', { name: 'Cut piece 1 again' }).click();
    await page.getByText('Cut 2: The cut misses').first().waitFor();
    expect(await pieces.getByRole('listitem').count()).toBe(2);
    await page.getByRole('button', { name: 'Piece 2' }).click();
    const middle = await page.getByLabel('At x').inputValue();
    await page.getByText('A plane', { exact: true }).click();
    await page.getByLabel('Cut with').first().click();
    await page.getByRole('option', { name: 'XZ plane' }).click();
    expect(middle).toBe('5\u202f000 mm');
    await page.getByRole('button', { name: 'Cut piece 2 again' }).click();
    await expect.poll(() => pieces.getByRole('listitem').count()).toBe(3);
    await pieces.getByRole('button', { name: 'Take the last cut back' }).click();
    await expect.poll(() => pieces.getByRole('listitem').count()).toBe(2);

    // 3. They become components; the plan names every file; it is done and undone.
    await pieces.getByLabel('Name of piece 2').fill('rib end');
    // A reload keeps what was cut and typed.
    await page.reload();
    await expect.poll(() => pieces.getByRole('listitem').count()).toBe(2);
    expect(await pieces.getByLabel('Name of piece 2').inputValue()).toBe('rib end');
    await page.getByText('Components, nested in an assembly').click();
    await expect.poll(() => plan.textContent()).toContain('mirror/mirror-frame/rib end.stp');
    await expect.poll(() => plan.textContent()).toContain('mirror/mirror-frame/mirror-frame-assembly.stp');
    await page.getByRole('button', { name: 'Keep 2 pieces' }).click();
    await expect
      .poll(() => plan.textContent())
      .toContain('Done: Cut rib L840 of mirror-frame.stp into 2 components');
    await plan.getByRole('button', { name: 'Undo' }).click();
    await page.getByRole('button', { name: 'Keep 2 pieces' }).waitFor();
    await page.goto(`${stand.project}/files?q=rib`);
    await page.getByText('No file fits').waitFor();
    expect(problems).toEqual([]);
    await context.close();
  });

  it('is a viewer who may look and change nothing', async () => {
    const { page, context } = await signedIn(stand, 'viewer');
    await page.goto(`${stand.project}/cut?file=mirror%2Fmirror-frame.stp`);
    await page.getByRole('button', { name: 'Try the cut' }).waitFor();
    await page.getByText('A plane', { exact: true }).click();
    expect(await page.getByRole('button', { name: 'Try the cut' }).isDisabled()).toBe(true);
    await page.goto(`${stand.project}/cut?file=nothing.stp`);
    await page.getByText('There is no file nothing.stp').waitFor();
    await context.close();
  });
});
