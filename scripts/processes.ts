import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from './bootstrap.mjs';

/** The web process and the job worker, and where the web process listens as soon as it does. */
export interface Running {
  processes: ChildProcess[];
  port: Promise<number>;
}

/**
 * Starts the web process and the job worker.
 * @param port to listen at, or the next one that is free; 0 for any
 * @param log of both, as an open file
 */
export function startProcesses(port: number, log: number | 'ignore' = 'ignore'): Running {
  const env = { ...process.env, NODE_ENV: 'production', PORT: String(port), HOST: '127.0.0.1' };
  const start = (file: string, more: 'ipc'[] = []) =>
    spawn(process.execPath, ['--import', 'tsx', file], {
      cwd: ROOT,
      env,
      stdio: ['ignore', log, log, ...more],
    });
  const web = start('server/web/web.ts', ['ipc']);
  const worker = start('server/worker/worker.ts');
  const listening = new Promise<number>((resolve, reject) => {
    web.once('message', (told: { port: number }) => {
      resolve(told.port);
      // Nothing more is said, and nobody waits for it.
      web.disconnect();
    });
    web.once('exit', (code) =>
      reject(new Error(`The web process ended with code ${code} before it could be asked anything.`)),
    );
  });
  listening.catch(() => {});
  return { processes: [web, worker], port: listening };
}

/** Asks processes to end, and ends those that do not within the time that they have. */
export async function endProcesses(children: readonly ChildProcess[]): Promise<void> {
  await Promise.all(
    children.map(
      (child) =>
        new Promise<void>((resolve) => {
          if (child.exitCode !== null || child.signalCode !== null) return resolve();
          const timer = setTimeout(() => child.kill('SIGKILL'), 15_000);
          child.once('exit', () => {
            clearTimeout(timer);
            resolve();
          });
          child.kill('SIGTERM');
        }),
    ),
  );
}

/** Builds the application when a source is newer than the build. */
export function buildIfStale(): void {
  const built = path.join(ROOT, 'build/server/index.js');
  const sources = ['app', 'core', 'server', 'demo/account.ts', 'package-lock.json', 'vite.config.ts'].map(
    (entry) => path.join(ROOT, entry),
  );
  if (existsSync(built) && Math.max(...sources.map(newest)) < statSync(built).mtimeMs) return;
  console.log('Building the application…');
  const result = spawnSync('npx', ['react-router', 'build'], { cwd: ROOT, encoding: 'utf8' });
  if (result.status !== 0) throw new Error(`The build failed:\n${result.stdout}\n${result.stderr}`);
}

function newest(entry: string): number {
  if (!existsSync(entry)) return 0;
  const info = statSync(entry);
  return info.isDirectory()
    ? Math.max(0, ...readdirSync(entry).map((name) => newest(path.join(entry, name))))
    : info.mtimeMs;
}
