import { type ChildProcess, type StdioOptions, spawn, spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from './bootstrap.mjs';
import { NODE_BUILD } from './build-node.mjs';
import { keepRunning } from './keep-running.mjs';

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
export function startProcesses(port: number, log: Log = 'ignore'): Running {
  const web = startWeb(port, log);
  return { processes: [web, startWorker(log)], port: portOf(web) };
}

/** Where a process writes what it says: an open file. */
type Log = number | 'ignore';

function startWeb(port: number, log: Log): ChildProcess {
  return start('web', { PORT: String(port), HOST: '127.0.0.1' }, ['ignore', log, log, 'ipc']);
}

function startWorker(log: Log): ChildProcess {
  return start('worker', {}, ['ignore', log, log]);
}

function start(name: string, settings: NodeJS.ProcessEnv, stdio: StdioOptions): ChildProcess {
  const env = { ...process.env, NODE_ENV: 'production', ...settings };
  const program = path.join(NODE_BUILD, `${name}.mjs`);
  return spawn(process.execPath, ['--enable-source-maps', program], { cwd: ROOT, env, stdio });
}

/** Where a web process listens. @throws when it ends before it does */
function portOf(web: ChildProcess): Promise<number> {
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
  return listening;
}

/**
 * Starts the web process and the job worker, and starts again what dies.
 * @param say told when it does
 * @returns the port, which stays the same, and what ends both
 */
export async function keepProcesses(
  wanted: number,
  log: Log,
  say: (words: string) => void,
): Promise<{ port: number; end: () => Promise<void> }> {
  const first = startWeb(wanted, log);
  const port = await portOf(first);
  let next: ChildProcess | undefined = first;
  const startAgain = () => {
    const web = next ?? startWeb(port, log);
    next = undefined;
    // What it says of its port is known.
    web.once('message', () => web.disconnect());
    return web;
  };
  const kept = [
    keepRunning('web process', startAgain, { say }),
    keepRunning('job worker', () => startWorker(log), { say }),
  ];
  return { port, end: async () => void (await Promise.all(kept.map((keeper) => keeper.end()))) };
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

/** What is built together, by a command, out of what. */
const BUILDS = [
  {
    what: 'the pages',
    made: 'build/server/index.js',
    of: ['app', 'core', 'server', 'demo/account.ts', 'package-lock.json', 'vite.config.ts'],
    command: ['npx', 'react-router', 'build'],
  },
  {
    what: 'the processes and the command line',
    made: 'build/node/stonetray.mjs',
    of: ['cli', 'core', 'server', 'package-lock.json', 'scripts/build-node.mjs'],
    command: [process.execPath, 'scripts/build-node.mjs'],
  },
];

/** Builds the application where a source is newer than the build. */
export function buildIfStale(): void {
  for (const { what, made, of, command } of BUILDS) {
    const built = path.join(ROOT, made);
    const changed = Math.max(...of.map((entry) => newest(path.join(ROOT, entry))));
    if (existsSync(built) && changed < statSync(built).mtimeMs) continue;
    console.log(`Building ${what}…`);
    const [program, ...args] = command as [string, ...string[]];
    const result = spawnSync(program, args, { cwd: ROOT, encoding: 'utf8' });
    if (result.status !== 0) throw new Error(`The build failed:\n${result.stdout}\n${result.stderr}`);
  }
}

function newest(entry: string): number {
  if (!existsSync(entry)) return 0;
  const info = statSync(entry);
  return info.isDirectory()
    ? Math.max(0, ...readdirSync(entry).map((name) => newest(path.join(entry, name))))
    : info.mtimeMs;
}
