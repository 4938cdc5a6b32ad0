import type { IncomingMessage, ServerResponse } from 'node:http';

/** Bytes that the body of a request may have, by what it is. */
const FORM = 64 * 1024;
const JSON_BODY = 1024 * 1024;
/** What may be longer: uploads, part by part or by the handful, and operations with what was chosen for thousands of files. */
const LONGER: readonly [path: RegExp, bytes: number][] = [
  [/^\/projects\/[^/]+\/upload$/, 17 * 1024 * 1024],
  [/^\/projects\/[^/]+\/(operations|kept)$/, 16 * 1024 * 1024],
];

/** How long the body of a request may be, bytes. */
export function bodyLimit(path: string, type: string | undefined): number {
  const longer = LONGER.find(([pattern]) => pattern.test(path));
  if (longer) return longer[1];
  return /\bjson\b/i.test(type ?? '') ? JSON_BODY : FORM;
}

/**
 * Refuses a body that is too long before it is read: by what its header says, and while it comes. Whoever sends more is cut off, so that nobody fills
 * the memory with what is thrown away.
 * @returns false when the request was answered
 */
export function limitBody(request: IncomingMessage & { path: string }, response: ServerResponse): boolean {
  if (request.method === 'GET' || request.method === 'HEAD') return true;
  const limit = bodyLimit(request.path, request.headers['content-type']);
  const refuse = () => {
    if (!response.headersSent) {
      response.writeHead(413, { 'Content-Type': 'text/plain; charset=utf-8', Connection: 'close' });
      response.end(`This request is longer than the ${limit.toLocaleString('en')} bytes that it may have.`);
    }
    // What is still on its way is not read.
    request.unpipe();
    request.pause();
    response.once('finish', () => request.socket.destroy());
  };
  if (Number(request.headers['content-length'] ?? 0) > limit) {
    refuse();
    return false;
  }
  let length = 0;
  const push = request.push.bind(request);
  request.push = (chunk, encoding) => {
    length += chunk?.length ?? 0;
    if (length <= limit) return push(chunk, encoding);
    refuse();
    request.destroy(new Error('The request is too long.'));
    return false;
  };
  return true;
}
