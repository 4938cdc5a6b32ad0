import { randomBytes } from 'node:crypto';
import { PassThrough } from 'node:stream';
import { createReadableStreamFromReadable } from '@react-router/node';
import { isbot } from 'isbot';
import { renderToPipeableStream } from 'react-dom/server';
import {
  type EntryContext,
  type HandleErrorFunction,
  isRouteErrorResponse,
  ServerRouter,
} from 'react-router';
import { defectInWords, log } from '#server/log';
import { setPageHeaders } from './page-headers';
import { Nonce } from './ui/nonce';

/** What a loader, an action or a page did not expect is logged; the person reads that it is our fault. */
export const handleError: HandleErrorFunction = (error, { request, params }) => {
  // An address that there is none of, or a way to ask that it does not have, is whoever asks's affair.
  if (request.signal.aborted || (isRouteErrorResponse(error) && error.status < 500)) return;
  const { pathname } = new URL(request.url);
  defectInWords(error, { request: `${request.method} ${pathname}`, project: params.projectId });
};

/** Milliseconds that data may still arrive in after the page has begun. */
export const streamTimeout = 5_000;

/** Answers with a page: rendered as a stream, with headers that let nothing but its own scripts run. */
export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  context: EntryContext,
): Promise<Response> | Response {
  const nonce = randomBytes(16).toString('base64');
  setPageHeaders(headers, nonce);
  headers.set('Content-Type', 'text/html; charset=utf-8');
  if (request.method.toUpperCase() === 'HEAD') return new Response(null, { status, headers });

  return new Promise((resolve, reject) => {
    let hasBegun = false;
    let outcome = status;
    const begin = () => {
      hasBegun = true;
      const body = new PassThrough({
        final(done) {
          clearTimeout(timer);
          done();
        },
      });
      resolve(new Response(createReadableStreamFromReadable(body), { status: outcome, headers }));
      pipe(body);
    };
    const readsAllAtOnce = isbot(request.headers.get('user-agent') ?? '');
    const { pipe, abort } = renderToPipeableStream(
      <Nonce.Provider value={nonce}>
        <ServerRouter context={context} url={request.url} nonce={nonce} />
      </Nonce.Provider>,
      {
        nonce,
        [readsAllAtOnce ? 'onAllReady' : 'onShellReady']: begin,
        onShellError: reject,
        onError(error: unknown) {
          outcome = 500;
          // Errors before the page has begun are told by onShellError.
          if (hasBegun) log.error({ err: error, request: request.url }, 'a page broke off');
        },
      },
    );
    const timer = setTimeout(() => abort(), streamTimeout + 1000);
  });
}
