import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { renderPage } from '../../testing/render';
import { tasksStandIn } from '../../testing/tasks-stand-in';
import { RenewScreen } from './RenewScreen';

const FILES = [
  { path: 'top.stp', base: 'aa', what: ['its components are referred to in the form that others follow'] },
  {
    path: 'parts/clip.stp',
    base: 'bb',
    what: ['its source is written as a property', 'its units are in order'],
  },
];

afterEach(() => vi.unstubAllGlobals());

describe('the page that renews how links are written', () => {
  it('names each file and what is renewed, and renews just what it showed', async () => {
    const tasks = tasksStandIn(() => ({
      applied: 'c1',
      summary: 'Renewed how links are written in 2 files',
    }));
    vi.stubGlobal('fetch', tasks.answer);
    renderPage(<RenewScreen files={FILES} />, { context: { projectId: 'p', mayEdit: true } });
    expect(screen.getByRole('list', { name: 'Files to renew' }).textContent).toContain(
      'its source is written',
    );
    expect(screen.getByText(/2 files get a new version each/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Renew 2 files' }));
    await waitFor(() => expect(screen.getByRole('status').textContent).toContain('in 2 files'));
    expect(tasks.asked).toEqual([
      {
        kind: 'renew',
        request: {
          base: [
            { path: 'top.stp', base: 'aa' },
            { path: 'parts/clip.stp', base: 'bb' },
          ],
        },
      },
    ]);
    expect(screen.getByRole('button', { name: 'Undo' })).toBeTruthy();
  });

  it('lets a viewer look, and says when there is nothing to renew', () => {
    renderPage(<RenewScreen files={FILES.slice(0, 1)} />, { context: { projectId: 'p', mayEdit: false } });
    expect(screen.getByRole('button', { name: 'Renew 1 file' })).toHaveProperty('disabled', true);
    expect(screen.getByText(/^This file writes something/)).toBeTruthy();
  });

  it('leads back when all is well', () => {
    renderPage(<RenewScreen files={[]} />, { context: { projectId: 'p', mayEdit: true } });
    expect(screen.getByRole('heading', { name: 'Every link is written as others follow it' })).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Go to the Repair desk' })).toBeTruthy();
  });
});
