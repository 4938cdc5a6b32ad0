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

/** Milliseconds between two attempts: short at first. */
const [FIRST_PAUSE, LONGEST_PAUSE] = [400, 8000];

/** What stands between us and the server answers so when there is no server. */
const NO_SERVER = [502, 503, 504];

const SIGNED_OUT = 401;

/**
 * Asks until there is an answer. While none comes, every page says so, and it is tried again, at once when the network is back; where the
 * session has ended, as soon as somebody has signed in again. What is asked must do no harm when it arrives twice: an answer may have
 * been lost on its way, too.
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
        tell({ isLost: false, isSignedOut: answer.status === SIGNED_OUT });
        if (answer.status !== SIGNED_OUT) return answer;
      }
    } catch (error) {
      if (!isNetworkError(error)) throw error;
    }
    if (!isWanted()) return undefined;
    if (state.isSignedOut) await signIn(isWanted);
    else {
      tell({ isLost: true });
      await backOnline(pause);
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
