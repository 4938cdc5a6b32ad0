import { answerInProject } from '#server/auth/guard';
import { listen } from '#server/events/events';
import { standingOf } from '#server/views/standing';
import type { Route } from './+types/events';

const HEARTBEAT = 20_000;

/** Server-sent events of one project. */
export const loader = answerInProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
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
      const unlisten = await listen(project.id, (event) => send(`data: ${JSON.stringify(event)}\n\n`));
      const heartbeat = setInterval(() => send(': still here\n\n'), HEARTBEAT);
      stop = () => {
        clearInterval(heartbeat);
        unlisten();
      };
      request.signal.addEventListener('abort', stop);
      send('retry: 2000\n\n');
      // Whatever happened between the loading of the page and now was not heard: the page compares.
      send(`data: ${JSON.stringify(await standingOf(db, project.id))}\n\n`);
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
