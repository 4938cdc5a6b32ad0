import { forSignedIn } from '#server/auth/guard';
import { userOf } from '#server/auth/sessions';
import { listenAsMember, type PersonEvent, type ProjectEvent } from '#server/events/events';
import type { Route } from './+types/events';

const HEARTBEAT = 20_000;
/** Streams that one person has open at a time: each browser needs one. The oldest makes room. */
const MOST_STREAMS = 12;

/** What ends the open streams of each person, the oldest first. */
const open = new Map<string, Set<() => void>>();

/** Server-sent events of all projects of the person: one connection is enough for all pages of a browser. It ends with the session. */
export const loader = forSignedIn(async ({ db, user }, { request }: Route.LoaderArgs) => {
  const encoder = new TextEncoder();
  let stop = () => {};
  const body = new ReadableStream<Uint8Array>({
    async start(controller) {
      const send = (text: string) => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          stop();
        }
      };
      const own = open.get(user.id) ?? new Set();
      open.set(user.id, own);
      let unlisten = () => {};
      let heartbeat: NodeJS.Timeout | undefined;
      stop = () => {
        clearInterval(heartbeat);
        unlisten();
        own.delete(stop);
        if (own.size === 0) open.delete(user.id);
        try {
          controller.close();
        } catch {
          // Whoever listened has gone.
        }
      };
      const [oldest] = own;
      if (own.size >= MOST_STREAMS) oldest?.();
      own.add(stop);
      const endWithSession = async () => {
        const isStillHere = await userOf(db, request).catch(() => user);
        if (!isStillHere) stop();
        return !isStillHere;
      };
      const tell = (event: ProjectEvent | PersonEvent) => send(`data: ${JSON.stringify(event)}\n\n`);
      unlisten = await listenAsMember(
        db,
        user.id,
        tell,
        async () => (await endWithSession()) || tell({ type: 'person' }),
      );
      heartbeat = setInterval(() => {
        send(': still here\n\n');
        void endWithSession();
      }, HEARTBEAT);
      request.signal.addEventListener('abort', stop);
      send('retry: 2000\n\n');
    },
    cancel: () => stop(),
  });
  return new Response(body, {
    headers: {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-cache, no-transform',
      'X-Accel-Buffering': 'no',
    },
  });
});
