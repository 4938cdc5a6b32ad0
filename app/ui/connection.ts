import { useSyncExternalStore } from 'react';

/** Whether the last request found no server. */
let isLost = false;
const listeners = new Set<() => void>();

function tell(lost: boolean): void {
  if (lost === isLost) return;
  isLost = lost;
  for (const listener of listeners) listener();
}

/** Whether the server has stopped answering. */
export function useLost(): boolean {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => isLost,
    () => false,
  );
}

/** Milliseconds between two attempts: short at first. */
const [FIRST_PAUSE, LONGEST_PAUSE] = [400, 8000];

/** What stands between us and the server answers so when there is no server. */
const NO_SERVER = [502, 503, 504];

/**
 * Asks until there is an answer. While none comes, every page says so, and it is tried again, at once when the network is back. What is
 * asked must do no harm when it arrives twice: an answer may have been lost on its way, too.
 * @param isWanted whether somebody still waits
 * @returns undefined when nobody does
 */
export async function fetchPatiently(
  address: string,
  init: RequestInit = {},
  isWanted: () => boolean = () => true,
): Promise<Response | undefined> {
  for (let pause = FIRST_PAUSE; ; pause = Math.min(LONGEST_PAUSE, pause * 2)) {
    try {
      const answer = await fetch(address, init);
      if (!NO_SERVER.includes(answer.status)) {
        tell(false);
        return answer;
      }
    } catch (error) {
      if (!isNetworkError(error)) throw error;
    }
    if (!isWanted()) return undefined;
    tell(true);
    await backOnline(pause);
    if (!isWanted()) return undefined;
  }
}

/** Whether a request got no answer at all. */
export function isNetworkError(error: unknown): boolean {
  return error instanceof TypeError && /fetch|network|load failed/i.test(error.message);
}

/** Waits until the server answers. */
export async function serverAnswers(isWanted?: () => boolean): Promise<void> {
  await fetchPatiently('/favicon.svg', { method: 'HEAD', cache: 'no-store' }, isWanted);
}

/** A pause that ends early when the browser is back on its network. */
function backOnline(pause: number): Promise<void> {
  return new Promise((resolve) => {
    const end = () => {
      clearTimeout(timer);
      removeEventListener('online', end);
      resolve();
    };
    const timer = setTimeout(end, pause);
    addEventListener('online', end);
  });
}
