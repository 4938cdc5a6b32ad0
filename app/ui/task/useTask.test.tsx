import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { renderPage } from '../../testing/render';
import { tasksStandIn } from '../../testing/tasks-stand-in';
import { TaskBar } from './TaskBar';
import { useTask } from './useTask';

function Page() {
  const { running, done, error, start, cancel } = useTask<{ made: string }>();
  return (
    <>
      <button type="button" onClick={() => void start({ operation: 'detach', n: 1 })}>
        Start
      </button>
      {running && <TaskBar progress={running} label="Working" onCancel={cancel} />}
      {done && <output>{done.result.made}</output>}
      {error && <p role="alert">{error}</p>}
    </>
  );
}

/** The page, with what each look at the task brings: a state, or nothing because the answer was lost. */
async function openPage(looks: (object | 'lost')[]) {
  let look = 0;
  const tasks = tasksStandIn(() => looks[Math.min(look++, looks.length - 1)] as object);
  vi.stubGlobal(
    'fetch',
    vi.fn(async (address: string, init?: RequestInit) => {
      if (init?.method === undefined && looks[Math.min(look, looks.length - 1)] === 'lost') {
        look++;
        throw new TypeError('Failed to fetch');
      }
      return tasks.answer(address, init);
    }),
  );
  const { user } = renderPage(<Page />);
  await user.click(screen.getByRole('button', { name: 'Start' }));
  return { user, ...tasks };
}

describe('work that a page waits for', () => {
  it('is asked for, looked at, and shown when it is done', async () => {
    const { asked } = await openPage([
      { state: 'waiting' },
      { state: 'running' },
      { state: 'running', doing: 'Writing it', done: 3, total: 4 },
      { made: 'this' },
    ]);
    expect(asked).toEqual([{ operation: 'detach', n: 1, task: expect.stringMatching(/^[0-9a-f-]{36}$/) }]);
    expect(await screen.findByText('Starting…')).toBeTruthy();
    expect(await screen.findByText('Writing it…')).toBeTruthy();
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('75');
    expect((await screen.findByText('this')).tagName).toBe('OUTPUT');
    expect(screen.queryByRole('progressbar')).toBeNull();
  });

  it('is waited for when answers are lost on the way', async () => {
    await openPage(['lost', { state: 'running', doing: 'Going on' }, 'lost', 'lost', { made: 'after all' }]);
    expect(await screen.findByText('after all')).toBeTruthy();
  });

  it('is waited for, and says so, while no answer comes at all', async () => {
    await openPage(['lost']);
    expect(await screen.findByText('Waiting for the server to answer…')).toBeTruthy();
    expect(screen.queryByRole('alert')).toBeNull();
  });

  it('is begun once, although the first answer was lost', async () => {
    let sent = 0;
    const names = new Set<string>();
    const tasks = tasksStandIn(() => ({ made: 'once' }));
    vi.stubGlobal('fetch', async (address: string, init?: RequestInit) => {
      if (init?.method !== 'POST') return tasks.answer(address, init);
      names.add(JSON.parse(String(init.body)).task);
      if (++sent === 1) throw new TypeError('Failed to fetch');
      return tasks.answer(address, init);
    });
    const { user } = renderPage(<Page />);
    await user.click(screen.getByRole('button', { name: 'Start' }));
    expect(await screen.findByText('once')).toBeTruthy();
    expect([sent, names.size]).toEqual([2, 1]);
  });

  it('is shown as done when it was done before it could be stopped', async () => {
    const looks: object[] = [{ state: 'running' }];
    const { user, cancelled } = await openPage(looks);
    await screen.findByText('Starting…');
    // It is done the moment somebody wants to stop it, however slow this machine is.
    cancelled.push = () => looks.push({ made: 'in time' });
    await user.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(await screen.findByText('in time')).toBeTruthy();
  });

  it('shows what it is told when it fails, and can be asked for again', async () => {
    const { user, asked } = await openPage([{ state: 'failed', error: 'The part has one body.' }]);
    expect((await screen.findByRole('alert')).textContent).toBe('The part has one body.');
    await user.click(screen.getByRole('button', { name: 'Start' }));
    await waitFor(() => expect(asked).toHaveLength(2));
  });
});
