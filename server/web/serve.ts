import { createHash, randomUUID, timingSafeEqual } from 'node:crypto';
import { createServer, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import compression from 'compression';
import express, { type Request, type RequestHandler, type Response } from 'express';
import sirv from 'sirv';
import { type Asked, answering } from '#server/asked';
import { ORIGIN_HEADER } from '#server/auth/attempts';
import { AWAY_SECONDS } from '#server/db/away';
import type { Database } from '#server/db/connection';
import { workersAlive } from '#server/db/workers';
import { log } from '#server/log';
import { limitBody } from './limits';
import { Metrics } from './metrics';

export interface WebSettings {
  /** Addresses of proxies whose word on the visitor is taken; nobody else's is. */
  proxies: readonly string[];
  /** What has to be shown for the measurements; '' for nothing. */
  metricsToken?: string;
  /** Folder of what browsers fetch. */
  client: string;
}

/** Milliseconds that the database may take to say that it is there. */
const READY_WITHIN = 2000;
/** Milliseconds that requests may take to end when the process is asked to. */
const GRACE = 10_000;

/** Nobody guesses what an answer is, keeps it, or learns where somebody came from. */
const CAREFUL = [
  ['X-Content-Type-Options', 'nosniff'],
  ['Referrer-Policy', 'same-origin'],
  ['Cache-Control', 'no-store'],
] as const;

/** Where the files lie that browsers keep for ever. */
/** Seconds. */
const YEAR = 31_536_000;

const ASSETS = '/assets';

const NO_WORKER =
  'No job worker has answered for 15 s: plans and changes wait. Start one: npm run start:worker';

/** Headers by which proxies speak of the visitor. */
const FORWARDED = [
  'forwarded',
  'x-forwarded-for',
  'x-forwarded-host',
  'x-forwarded-proto',
  'x-forwarded-port',
];

/** The web process: pages and files, whether it lives and is ready, what is measured; and an orderly end. */
export class WebServer {
  readonly server: Server;
  private readonly streams = new Set<ServerResponse>();
  private isEnding = false;

  /** @param pages answers what is no file */
  constructor(pages: RequestHandler, db: Database, { proxies, metricsToken = '', client }: WebSettings) {
    const metrics = new Metrics(db);
    const app = express();
    app.disable('x-powered-by');
    app.set('trust proxy', [...proxies]);
    app.use((request, response, next) => {
      const write = response.writeHead.bind(response);
      // What an answer says of itself holds; what it does not say is the careful choice.
      response.writeHead = ((...given: Parameters<typeof write>) => {
        for (const [name, value] of CAREFUL) if (!response.hasHeader(name)) response.setHeader(name, value);
        if (given[0] === 503 && !response.hasHeader('Retry-After'))
          response.setHeader('Retry-After', AWAY_SECONDS);
        if (isStream(response)) this.streams.add(response);
        return write(...given);
      }) as typeof response.writeHead;
      // No address can be made of it: nothing behind this could read the request.
      if (!URL.canParse(`http://${request.headers.host}`)) {
        response.status(400).type('text/plain').send('This request does not say which server it is for.\n');
        return;
      }
      response.locals.isForwarded = FORWARDED.some((name) => name in request.headers);
      const trusts = app.get('trust proxy fn') as (address: string, hop: number) => boolean;
      if (!trusts(request.socket.remoteAddress ?? '', 0))
        for (const name of FORWARDED) delete request.headers[name];
      request.headers[ORIGIN_HEADER] = request.ip ?? '';
      next();
    });

    app.get('/health', (_, response) => {
      response.type('text/plain').send('alive\n');
    });
    app.get('/ready', async (_, response) => {
      const isReady = !this.isEnding && (await answers(db));
      response.status(isReady ? 200 : 503).type('text/plain');
      if (!isReady) response.send('not ready\n');
      else response.send((await workersAlive(db)) > 0 ? 'ready\n' : `ready\n${NO_WORKER}\n`);
    });
    app.get('/metrics', async (request, response, next) => {
      // For whoever runs the server, on the machine itself: they say how much is going on.
      if (!isLocal(request.socket.remoteAddress) || response.locals.isForwarded) return next();
      if (metricsToken !== '' && !isSame(request.headers.authorization ?? '', `Bearer ${metricsToken}`)) {
        response.status(401).type('text/plain').send('The measurements need their token.\n');
        return;
      }
      metrics.streamsOpen(this.streams.size);
      response.type(metrics.type).send(await metrics.text());
    });

    app.use((request, response, next) => {
      const began = performance.now();
      const asked: Asked = { id: randomUUID() };
      response.once('close', () => {
        const isStream = this.streams.delete(response);
        const took = performance.now() - began;
        metrics.answered(request.method, response.statusCode, isStream ? undefined : took / 1000);
        if (!request.path.startsWith(ASSETS))
          logRequest(asked, request, response, { took, isWhole: isStream || response.writableFinished });
      });
      if (this.isEnding) {
        response.set('Connection', 'close').set('Retry-After', '5').status(503);
        response.type('text/plain').send('Stone Tray is being started anew. Try again in a moment.\n');
        return;
      }
      if (limitBody(request, response)) answering(asked, next);
    });
    app.use(
      compression({
        filter: (request, response) => !isStream(response) && compression.filter(request, response),
      }),
    );
    // Pressed when they were built (scripts/pressed-assets.ts), for browsers that take it.
    app.use(ASSETS, sirv(`${client}${ASSETS}`, { immutable: true, maxAge: YEAR, brotli: true }));
    app.use(express.static(client, { maxAge: '1h', index: false }));
    app.use(pages);
    this.server = createServer(app);
    // Headers must be there in a minute, and a request in five: whoever is slower holds nothing.
    this.server.headersTimeout = 60_000;
    this.server.requestTimeout = 300_000;
  }

  /** @returns the port that it listens at */
  listen(port: number, host: string): Promise<number> {
    return new Promise((resolve, reject) => {
      this.server.once('error', reject);
      this.server.listen(port, host, () => {
        this.server.off('error', reject);
        resolve((this.server.address() as AddressInfo).port);
      });
    });
  }

  /** Takes no new requests, ends event streams, lets what runs come to its end, and cuts off what does not. */
  async end(grace = GRACE): Promise<void> {
    this.isEnding = true;
    const closed = new Promise<void>((resolve) => this.server.close(() => resolve()));
    for (const stream of this.streams) stream.end();
    this.server.closeIdleConnections();
    const cut = setTimeout(() => {
      log.warn('requests that did not end were cut off');
      this.server.closeAllConnections();
    }, grace);
    await closed;
    clearTimeout(cut);
  }
}

/** One line for a request that has ended: who asked for what, and what came of it. No query, nothing that opens anything. */
function logRequest(
  asked: Asked,
  { method, path }: Request,
  { statusCode: status }: Response,
  { took, isWhole }: { took: number; isWhole: boolean },
): void {
  const said = path.replace(/^(\/catalogue\/)[^/]+/, '$1…');
  const ms = Math.round(took);
  log.info({ ...asked, method, path: said, status, ms, ...(!isWhole && { cut: true }) }, 'request');
}

function isStream(response: ServerResponse): boolean {
  return String(response.getHeader('Content-Type') ?? '').startsWith('text/event-stream');
}

function isLocal(address: string | undefined): boolean {
  return /^(::1|(::ffff:)?127\.)/.test(address ?? '');
}

/** Takes as long whatever is different. */
function isSame(shown: string, expected: string): boolean {
  const hash = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(hash(shown), hash(expected));
}

async function answers(db: Database): Promise<boolean> {
  const late = new Promise<false>((resolve) => setTimeout(() => resolve(false), READY_WITHIN).unref());
  return Promise.race([
    db.raw('select 1').then(
      () => true,
      () => false,
    ),
    late,
  ]);
}
