import { forSignedIn } from '#server/auth/guard';
import { listenAsMember } from '#server/events/events';
import type { Route } from './+types/events';

const HEARTBEAT = 20_000;

/** Server-sent events of all projects of the person: one connection is enough for all pages of a browser. */
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
      const unlisten = await listenAsMember(db, user.id, (event) =>
        send(`data: ${JSON.stringify(event)}\n\n`),
      );
      const heartbeat = setInterval(() => send(': still here\n\n'), HEARTBEAT);
      stop = () => {
        clearInterval(heartbeat);
        unlisten();
      };
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
