import { act, screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { renderPage } from '../../testing/render';
import { fetchPatiently, useLost, useOffline } from './connection';

function Page() {
  const [isLost, isOffline] = [useLost(), useOffline()];
  return <output>{isOffline ? 'offline' : isLost ? 'lost' : 'there'}</output>;
}

/** A server that can be taken away; what it was asked for. */
function server() {
  const asked: string[] = [];
  const stand = { isUp: true };
  vi.stubGlobal('fetch', async (address: string) => {
    asked.push(address);
    if (!stand.isUp) throw new TypeError('Failed to fetch');
    return new Response('fine');
  });
  return { asked, stand };
}

/** The browser says that it has a network, or none. */
function network(isThere: boolean): void {
  vi.spyOn(navigator, 'onLine', 'get').mockReturnValue(isThere);
  window.dispatchEvent(new Event(isThere ? 'online' : 'offline'));
}

afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

describe('a server that does not answer', () => {
  it('is looked for once for all that wait, with growing pauses, and all go on when it is back', async () => {
    renderPage(<Page />);
    vi.useFakeTimers();
    const { asked, stand } = server();
    stand.isUp = false;
    const answers = ['/a', '/b', '/c', '/d'].map((address) => fetchPatiently(address));
    await act(() => vi.advanceTimersByTimeAsync(6500));
    expect(screen.getByText('lost')).toBeTruthy();
    // Looked for after 0.4, 1.2, 2.8 and 6 s.
    expect(asked).toEqual(['/a', '/b', '/c', '/d', '/ready', '/ready', '/ready', '/ready']);
    stand.isUp = true;
    await act(() => vi.advanceTimersByTimeAsync(6500));
    expect((await Promise.all(answers)).map((answer) => answer?.status)).toEqual([200, 200, 200, 200]);
    expect(asked.slice(8)).toEqual(['/ready', '/a', '/b', '/c', '/d']);
    expect(screen.getByText('there')).toBeTruthy();
  });

  it('is asked for nothing while the browser has no network, and at once when that is back', async () => {
    renderPage(<Page />);
    vi.useFakeTimers();
    const { asked, stand } = server();
    stand.isUp = false;
    const answer = fetchPatiently('/a');
    act(() => network(false));
    expect(screen.getByText('offline')).toBeTruthy();
    await act(() => vi.advanceTimersByTimeAsync(60_000));
    expect(asked).toEqual(['/a']);
    stand.isUp = true;
    act(() => network(true));
    await act(() => vi.advanceTimersByTimeAsync(10));
    expect((await answer)?.status).toBe(200);
    expect(asked).toEqual(['/a', '/ready', '/a']);
  });

  it('is looked for no longer when nobody waits', async () => {
    vi.useFakeTimers();
    const { asked, stand } = server();
    stand.isUp = false;
    let isWanted = true;
    const answer = fetchPatiently('/a', {}, () => isWanted);
    await vi.advanceTimersByTimeAsync(500);
    isWanted = false;
    await vi.advanceTimersByTimeAsync(60_000);
    expect(await answer).toBeUndefined();
    expect(asked).toEqual(['/a', '/ready']);
  });
});
