import { useSyncExternalStore } from 'react';

/** Whether the last request found no server, and whether it was from somebody who is not signed in any more. */
let state = { isLost: false, isSignedOut: false };
const listeners = new Set<() => void>();

function tell(news: Partial<typeof state>): void {
  const next = { ...state, ...news };
  if (next.isLost === state.isLost && next.isSignedOut === state.isSignedOut) return;
  state = next;
  for (const listener of listeners) listener();
}

function listen(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Whether the server has stopped answering. */
export function useLost(): boolean {
  return useSyncExternalStore(
    listen,
    () => state.isLost,
    () => false,
  );
}

/** Whether the session has ended: requests wait until somebody has signed in again. */
export function useSignedOut(): boolean {
  return useSyncExternalStore(
    listen,
    () => state.isSignedOut,
    () => false,
  );
}

/** Told when somebody has signed in again: what waits is asked again. */
export function signedInAgain(): void {
  tell({ isSignedOut: false });
}

/** Milliseconds between two looks whether the server is back: short at first. */
const [FIRST_PAUSE, LONGEST_PAUSE] = [400, 20_000];

/** What stands between us and the server answers so when there is no server. */
const NO_SERVER = [502, 503, 504];

const SIGNED_OUT = 401;

/**
 * Asks until there is an answer. While none comes, every page says so, one look for all that wait tells when the server is back, and it
 * is asked again; where the session has ended, as soon as somebody has signed in again. What is asked must do no harm when it arrives twice: an answer may have
 * been lost on its way, too.
 * @param isWanted whether somebody still waits
 * @returns undefined when nobody does
 */
export async function fetchPatiently(
  address: string,
  init: RequestInit = {},
  isWanted: () => boolean = () => true,
): Promise<Response | undefined> {
  for (let again = 0; ; again = Math.min(LONGEST_PAUSE, again * 2 || FIRST_PAUSE)) {
    try {
      const answer = await fetch(address, init);
      if (!NO_SERVER.includes(answer.status)) {
        tell({ isLost: false, isSignedOut: answer.status === SIGNED_OUT });
        if (answer.status !== SIGNED_OUT) return answer;
      }
    } catch (error) {
      if (!isNetworkError(error)) throw error;
    }
    if (!isWanted()) return undefined;
    if (state.isSignedOut) await signIn(isWanted);
    else {
      await serverIsBack(isWanted);
      // It answers, and not this: that is asked ever more seldom.
      if (again > 0) await pauseOf(again);
    }
    if (!isWanted()) return undefined;
  }
}

/** Whether a request got no answer at all. */
export function isNetworkError(error: unknown): boolean {
  return error instanceof TypeError && /fetch|network|load failed/i.test(error.message);
}

/** For what a page asks beside its own data: a route's `clientLoader` or `clientAction`. @throws Error with the server's words */
export async function clientAsks<Answer>({ request }: { request: Request }): Promise<Answer> {
  const { method } = request;
  const body = method === 'GET' ? undefined : await request.clone().formData();
  const sent = body && new URLSearchParams([...body].map(([name, value]) => [name, String(value)]));
  const answer = await fetchPatiently(request.url, { method, body: sent });
  if (!answer?.ok) throw new Response(await answer?.text(), { status: answer?.status });
  return (await answer.json()) as Answer;
}

/** Waits until somebody has signed in again: here, or in another tab. */
async function signIn(isWanted: () => boolean): Promise<void> {
  const look = async () => {
    const { status } = await fetch('/session', { cache: 'no-store' });
    if (status !== SIGNED_OUT) signedInAgain();
  };
  const onFocus = () => void look().catch(() => {});
  addEventListener('focus', onFocus);
  try {
    while (state.isSignedOut && isWanted())
      await new Promise<void>((resolve) => {
        const end = () => {
          clearTimeout(timer);
          stop();
          resolve();
        };
        const timer = setTimeout(end, LONGEST_PAUSE);
        const stop = listen(end);
      });
  } finally {
    removeEventListener('focus', onFocus);
  }
}

/** Waits until the session is there, which takes a server that answers. */
export async function sessionLives(isWanted?: () => boolean): Promise<void> {
  await fetchPatiently('/session', { cache: 'no-store' }, isWanted);
}

/** Waits until the server answers, and has its database. */
export async function serverAnswers(isWanted?: () => boolean): Promise<void> {
  await fetchPatiently('/ready', { cache: 'no-store' }, isWanted);
}

/** Who waits for the server, and the looks that are taken for all of them. */
const waiting = new Set<() => boolean>();
let looking: Promise<void> | null = null;

function isWaitedFor(): boolean {
  return [...waiting].some((isWanted) => isWanted());
}

/** Waits until the server answers at all, or nobody waits any more. */
async function serverIsBack(isWanted: () => boolean): Promise<void> {
  tell({ isLost: true });
  waiting.add(isWanted);
  looking ??= lookForServer().finally(() => {
    looking = null;
  });
  try {
    await looking;
  } finally {
    waiting.delete(isWanted);
  }
}

async function lookForServer(): Promise<void> {
  for (let pause = FIRST_PAUSE; ; pause = Math.min(LONGEST_PAUSE, pause * 2)) {
    await pauseOnline(pause);
    if (!isWaitedFor()) return;
    try {
      const { status } = await fetch('/ready', { cache: 'no-store' });
      if (!NO_SERVER.includes(status)) return;
    } catch (error) {
      if (!isNetworkError(error)) throw error;
    }
  }
}

/** Milliseconds: without a network, whoever has left the page is noticed so soon. */
const LOOKS_AROUND = 1000;

/** A pause; on a browser without a network it lasts until that is back, since nothing would answer. */
async function pauseOnline(pause: number): Promise<void> {
  await pauseOf(pause);
  while (!navigator.onLine && isWaitedFor()) await pauseOf(LOOKS_AROUND);
}

/** A pause that ends early when the network comes back. */
function pauseOf(milliseconds: number): Promise<void> {
  return new Promise((resolve) => {
    const end = () => {
      clearTimeout(timer);
      removeEventListener('online', end);
      resolve();
    };
    const timer = setTimeout(end, milliseconds);
    addEventListener('online', end);
  });
}

/** Whether the browser says that it has no network. */
export function useOffline(): boolean {
  return useSyncExternalStore(
    (listener) => {
      addEventListener('online', listener);
      addEventListener('offline', listener);
      return () => {
        removeEventListener('online', listener);
        removeEventListener('offline', listener);
      };
    },
    () => !navigator.onLine,
    () => false,
  );
}
