import { screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { filesToRenew, formInWords } from '#core/jobs/repair/renew';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { operationsStandIn } from '../../testing/operations-stand-in';
import { press, renderPage } from '../../testing/render';
import { RenewScreen } from './RenewScreen';

async function openPage(context = {}) {
  const files = new MemoryFileSet([
    ['top.stp', testAssembly('TOP', [{ written: 'sub.stp', id: 'SUB' }], 'associated')],
    ['sub.stp', testAssembly('SUB', [{ written: 'in/p.stp', id: 'P' }], 'folder and name')],
    ['in/p.stp', writeBoxPart({ id: 'P' })],
  ]);
  const operations = operationsStandIn(files);
  vi.stubGlobal('fetch', operations.answer);
  const old = filesToRenew(await scanFileSet(files));
  const shown = old.map(({ path, forms }) => ({ path, forms, what: forms.map(formInWords) }));
  return { ...renderPage(<RenewScreen files={shown} />, { context }), ...operations, files };
}

describe('the page that renews how links are written', () => {
  it('names each file and what is renewed, and renews just what it showed', async () => {
    const { user, files } = await openPage();
    expect(screen.getByRole('list', { name: 'Files to renew' }).textContent).toContain(
      'its components are referred to in the form that others follow',
    );
    expect(await screen.findByText(/2 files get a new version each/)).toBeTruthy();
    await press(user, 'Renew 2 files');
    expect(await screen.findByText(/^Done: .* in 2 files\.$/)).toBeTruthy();
    expect(filesToRenew(await scanFileSet(files))).toEqual([]);
    expect(screen.getByRole('button', { name: 'Undo' })).toBeTruthy();
  });

  it('lets a viewer look', async () => {
    await openPage({ mayEdit: false });
    expect(await screen.findByText(/2 files get a new version each/)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Renew 2 files' })).toHaveProperty('disabled', true);
    expect(screen.getByText(/^These files write something/)).toBeTruthy();
  });

  it('leads back when all is well', () => {
    renderPage(<RenewScreen files={[]} />);
    expect(screen.getByRole('heading', { name: 'Every link is written as others follow it' })).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Go to the Repair desk' })).toBeTruthy();
  });
});
