import { screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { RunningTask } from '#server/views/operations/running';
import { renderPage } from '../../testing/render';
import { Running } from './Running';

vi.mock('../../ui/connection/live-events', () => ({ listenTogether: () => () => {} }));

const task = (more: Partial<RunningTask> = {}): RunningTask => ({
  id: 'a',
  title: 'Sealed solid',
  choices: 'az-drive.stp',
  isLooking: true,
  who: null,
  state: 'running',
  doing: 'Joining bodies',
  done: 3,
  total: 12,
  seconds: 75,
  ...more,
});

function serve(view: { tasks: RunningTask[]; isServed?: boolean }) {
  const cancelled: string[] = [];
  vi.stubGlobal('fetch', async (address: string, init?: RequestInit) => {
    if (init?.method === 'POST') {
      const { cancel } = JSON.parse(String(init.body)) as { cancel: string };
      cancelled.push(cancel);
      view.tasks = view.tasks.filter(({ id }) => id !== cancel);
      return Response.json({});
    }
    return address.includes('/running') ? Response.json({ isServed: true, ...view }) : new Response();
  });
  return cancelled;
}

describe('what is under way, in the header', () => {
  it('is said with what, since when, how far, for whom, and can be cancelled', async () => {
    const cancelled = serve({
      tasks: [
        task(),
        task({ id: 'b', title: 'Import', isLooking: false, who: 'Tomas Reed', state: 'waiting', total: 0 }),
      ],
    });
    const { user } = renderPage(<Running projectId="p" />);
    await user.click(await screen.findByRole('button', { name: 'Running 2' }));
    const [first, second] = await screen.findAllByRole('listitem');
    expect(first!.textContent).toContain('Sealed solid, what it will do');
    expect(first!.textContent).toContain('az-drive.stp');
    expect(first!.textContent).toContain('Joining bodies, 3 of 12; for 1 min 15 s');
    expect(second!.textContent).toContain('Import for Tomas Reed');
    expect(second!.textContent).toContain('Waits its turn');
    await user.click(within(first!).getByRole('button', { name: /^Cancel/ }));
    await waitFor(() => expect(screen.getByRole('button', { name: 'Running 1' })).toBeTruthy());
    expect(cancelled).toEqual(['a']);
  });

  it('says whom to tell when no job worker answers', async () => {
    serve({ tasks: [task()], isServed: false });
    const { user } = renderPage(<Running projectId="p" />);
    await user.click(await screen.findByRole('button', { name: 'Running 1' }));
    expect((await screen.findByRole('alert')).textContent).toContain('Tell whoever runs this server');
  });

  it('is not there while nothing is', async () => {
    serve({ tasks: [] });
    renderPage(<Running projectId="p" />);
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(screen.queryByRole('button')).toBeNull();
  });
});
