import type { PersonEvent, ProjectEvent } from '#server/events/events';

/** What happens on the server, and word that listening has begun (what happened before was not heard) or has broken off. */
export type LiveEvent = ProjectEvent | PersonEvent | { type: 'listening' } | { type: 'silence' };

/** Names of the lock and of the channel that the pages of this browser share. */
const SHARED = 'stonetray events';

/**
 * Listens to what happens in all projects of the person. All pages of a browser share one connection, since it holds only a few: one of
 * them has it and tells the others; when that one is closed, the next takes over.
 * @returns ends it
 */
export function listenTogether(onEvent: (event: LiveEvent) => void): () => void {
  const ending = new AbortController();
  const channel = new BroadcastChannel(SHARED);
  channel.onmessage = ({ data }: MessageEvent<LiveEvent>) => onEvent(data);
  const hold = () =>
    new Promise<void>((resolve) => {
      const source = new EventSource('/events');
      const pass = (event: LiveEvent) => {
        onEvent(event);
        channel.postMessage(event);
      };
      source.onopen = () => pass({ type: 'listening' });
      source.onerror = () => pass({ type: 'silence' });
      source.onmessage = ({ data }: MessageEvent<string>) =>
        pass(JSON.parse(data) as ProjectEvent | PersonEvent);
      ending.signal.addEventListener('abort', () => {
        source.close();
        resolve();
      });
    });
  // Pages that are not served safely have no locks: each then listens by itself.
  const locks: LockManager | undefined = navigator.locks;
  if (locks) locks.request(SHARED, { signal: ending.signal }, hold).catch(() => {});
  else void hold();
  return () => {
    ending.abort();
    channel.close();
  };
}
