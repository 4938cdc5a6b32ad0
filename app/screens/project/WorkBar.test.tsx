import { act, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { renderPage } from '../../testing/render';
import { tasksStandIn } from '../../testing/tasks-stand-in';
import { beginWork, leaveWork } from '../../ui/task/left-work';
import { WorkBar } from './WorkBar';

/** Work that a page began and left; how it ends is said when the test wants it to. */
function leave(ends: () => object) {
  const { answer, cancelled } = tasksStandIn(ends);
  vi.stubGlobal('fetch', async (address: string, init?: RequestInit) => {
    const found = await answer(address, init);
    return found ?? new Response();
  });
  return { cancelled };
}
const begin = async (summary: string) => {
  const answer = await fetch('/projects/p/tasks', { method: 'POST', body: '{}' });
  const { task: id } = (await answer.json()) as { task: string };
  act(() => beginWork({ projectId: 'p', id, summary, address: '/projects/p/split?file=a.stp' }));
  return id;
};

describe('work that is left', () => {
  it('is not said while its page shows it, then until it has ended, and its end until that is seen', async () => {
    const state = { of: 'running' };
    leave(() =>
      state.of === 'running'
        ? { state: 'running', done: 3, total: 9, doing: 'Writing' }
        : { summary: 'Split off 9 bodies' },
    );
    const { user } = renderPage(<WorkBar projectId="p" />);
    const id = await begin('Splits off 9 bodies');
    expect(screen.queryByText('Splits off 9 bodies')).toBeNull();
    act(() => leaveWork(id));
    expect(await screen.findByText('Writing…')).toBeTruthy();
    state.of = 'done';
    expect(await screen.findByText('Done: Split off 9 bodies.')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Close' }));
    await waitFor(() => expect(screen.queryByText(/Split off 9/)).toBeNull());
  });

  it('says why it failed, and leads back to where it was begun', async () => {
    leave(() => ({ state: 'failed', error: 'a.stp has changed.' }));
    renderPage(<WorkBar projectId="p" />);
    const id = await begin('Splits off 2 bodies');
    act(() => leaveWork(id));
    expect((await screen.findByRole('alert')).textContent).toBe('Splits off 2 bodies: a.stp has changed.');
    expect(screen.getByRole('link', { name: 'Back to it' }).getAttribute('href')).toBe(
      '/projects/p/split?file=a.stp',
    );
  });

  it('is no affair of another project', async () => {
    leave(() => ({ summary: 'x' }));
    renderPage(<WorkBar projectId="other" />);
    const id = await begin('Splits off 4 bodies');
    act(() => leaveWork(id));
    expect(screen.queryByText('Splits off 4 bodies')).toBeNull();
  });
});
