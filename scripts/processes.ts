import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from './bootstrap.mjs';

/** The web process and the job worker. */
export function startProcesses(port: number, quiet = false): ChildProcess[] {
  const env = { ...process.env, NODE_ENV: 'production', PORT: String(port), HOST: '127.0.0.1' };
  const stdio = quiet ? ('ignore' as const) : (['ignore', 'ignore', 'inherit'] as const);
  const start = (args: string[]) => spawn(process.execPath, args, { cwd: ROOT, env, stdio: stdio as never });
  const web = start([path.join(ROOT, 'node_modules/@react-router/serve/bin.js'), 'build/server/index.js']);
  const worker = start(['--import', 'tsx', 'server/worker/worker.ts']);
  return [web, worker];
}

/** Asks processes to end, and ends those that do not: open event streams would keep a web process for ever. */
export async function endProcesses(children: readonly ChildProcess[]): Promise<void> {
  await Promise.all(
    children.map(
      (child) =>
        new Promise<void>((resolve) => {
          if (child.exitCode !== null || child.signalCode !== null) return resolve();
          const timer = setTimeout(() => child.kill('SIGKILL'), 2000);
          child.once('exit', () => {
            clearTimeout(timer);
            resolve();
          });
          child.kill('SIGTERM');
        }),
    ),
  );
}

/** Waits until the web process answers. */
export async function answering(port: number): Promise<void> {
  for (let attempt = 0; attempt < 120; attempt++) {
    const response = await fetch(`http://127.0.0.1:${port}/sign-in`).catch(() => undefined);
    if (response?.ok) return;
    await new Promise((resolve) => setTimeout(resolve, 250));
  }
  throw new Error(`The application does not answer on port ${port}.`);
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
