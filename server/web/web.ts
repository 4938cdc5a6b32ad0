import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { createRequestHandler } from '@react-router/express';
import { closeDatabase, database } from '#server/db/connection';
import { environment } from '#server/environment';
import { log } from '#server/log';
import { WebServer } from './serve';

/** So many ports are tried. */
const MOST_PORTS = 50;

/** The web process: serves the built application. Start more of them behind a proxy. */
const ROOT = path.join(import.meta.dirname, '../..');
const build = await import(pathToFileURL(path.join(ROOT, 'build/server/index.js')).href);
const { proxies, metricsToken, port, host } = environment();
const pages = createRequestHandler({ build, mode: process.env.NODE_ENV });
const web = new WebServer(pages, database(), {
  proxies,
  metricsToken,
  client: path.join(ROOT, 'build/client'),
});
const listening = await listenNear(port);
log.info({ port: listening, host }, 'web process ready');
process.send?.({ port: listening });

/** Whoever starts it by a script is told where it listens: a port that is taken is no reason to give up then. */
async function listenNear(wanted: number): Promise<number> {
  for (let at = wanted; ; at++) {
    try {
      return await web.listen(at, host);
    } catch (error) {
      const isTaken = (error as NodeJS.ErrnoException).code === 'EADDRINUSE';
      if (!isTaken || !process.send || at >= wanted + MOST_PORTS) throw error;
    }
  }
}

let isEnding = false;
const stop = async () => {
  if (isEnding) return;
  isEnding = true;
  await web.end();
  await closeDatabase();
  process.exit(0);
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
