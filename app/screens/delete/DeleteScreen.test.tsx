import { screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { gearUnit } from '#core/testing/projects';
import { operationsStandIn } from '../../testing/operations-stand-in';
import { press, renderPage } from '../../testing/render';
import { withPaths } from '../../ui/address/paths-in-address';
import { DeleteScreen } from './DeleteScreen';

function openPage(what: string[], context = {}) {
  const files = gearUnit();
  vi.stubGlobal('fetch', operationsStandIn(files).answer);
  return { ...renderPage(<DeleteScreen />, { path: withPaths('p', 'delete', what), context }), files };
}

describe('the page that deletes', () => {
  it('names who uses what goes and what becomes of those links, and then deletes', async () => {
    const { user, files } = openPage(['parts/housing.stp', 'std']);
    expect(await screen.findByRole('row', { name: /housing\.stp.*1 file/ })).toBeTruthy();
    expect(screen.getByRole('heading', { name: '2 links in other files' })).toBeTruthy();
    expect(screen.getAllByText('nowhere')).toHaveLength(2);
    expect(screen.getByText('2 links in drive.stp will lead nowhere.')).toBeTruthy();
    await press(user, 'Delete 3 files');
    expect(await screen.findByText('Done: Deleted 3 files.')).toBeTruthy();
    expect((await files.list()).map(({ path }) => path)).not.toContain('std/washer.stp');
    expect(screen.getByRole('button', { name: 'Undo' })).toBeTruthy();
  });

  it('says so when nothing uses it, when it is not there, and when nothing is chosen', async () => {
    openPage(['parts/left-over.stp'], { mayEdit: false });
    expect(await screen.findByRole('heading', { name: 'No other file uses them' })).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Delete 1 file' })).toHaveProperty('disabled', true);
    openPage(['nowhere.stp']);
    expect((await screen.findAllByText('There is no file or folder nowhere.stp.')).length).toBeGreaterThan(0);
    openPage([]);
    expect(screen.getByRole('heading', { name: 'Nothing chosen to delete' })).toBeTruthy();
  });
});
