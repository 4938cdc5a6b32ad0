// What has to be there before any TypeScript of ours can run. Plain JavaScript on purpose.
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import path from 'node:path';

export const ROOT = path.resolve(import.meta.dirname, '..');

/** Runs a command and stops with a clear message when it fails. */
export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { stdio: 'inherit', cwd: ROOT, ...options });
  if (result.status !== 0)
    throw new Error(`${command} ${args.join(' ')} failed${result.error ? `: ${result.error.message}` : ''}.`);
}

/** Installs the npm packages when they are missing or older than the lock file. */
export function ensurePackages() {
  const installed = path.join(ROOT, 'node_modules', '.package-lock.json');
  if (
    existsSync(installed) &&
    statSync(installed).mtimeMs >= statSync(path.join(ROOT, 'package-lock.json')).mtimeMs - 1000
  )
    return;
  console.log('Installing npm packages…');
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
}

/** Folder of PostgreSQL's server programs, newest version first; undefined when there is none. */
export function postgresPrograms() {
  const base = '/usr/lib/postgresql';
  const versions = existsSync(base) ? readdirSync(base).sort((a, b) => Number(b) - Number(a)) : [];
  const folders = [
    ...versions.map((version) => path.join(base, version, 'bin')),
    ...(process.env.PATH ?? '').split(':'),
  ];
  return folders.find(
    (folder) => existsSync(path.join(folder, 'initdb')) && existsSync(path.join(folder, 'pg_ctl')),
  );
}

export function chromium() {
  return [
    process.env.CHROMIUM,
    '/usr/bin/chromium',
    '/usr/bin/chromium-browser',
    '/usr/bin/google-chrome',
  ].find((file) => file && existsSync(file));
}

/** Installs Debian packages as root, or says which are missing. */
export function ensureDebian({ browser = false } = {}) {
  const missing = [];
  if (!process.env.DATABASE_URL && !postgresPrograms()) missing.push('postgresql');
  if (browser && !chromium()) missing.push('chromium');
  if (missing.length === 0) return;
  const isRoot = process.getuid?.() === 0;
  const hasApt = spawnSync('apt-get', ['--version'], { stdio: 'ignore' }).status === 0;
  if (!isRoot || !hasApt) {
    const database = missing.includes('postgresql')
      ? '\nOr set DATABASE_URL to a PostgreSQL database that you have.'
      : '';
    throw new Error(
      `These Debian packages are missing: ${missing.join(', ')}.\nInstall them with: sudo apt-get install ${missing.join(' ')}${database}`,
    );
  }
  console.log(`Installing ${missing.join(' and ')}…`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  run('apt-get', ['update', '-qq'], { env, stdio: ['ignore', 'ignore', 'inherit'] });
  run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...missing], {
    env,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
}

/**
 * Installs the reader that tests hold written files against (core/testing/outside-reader). Nothing else needs it: where it
 * cannot be installed, those tests are skipped.
 */
export function tryOutsideReader() {
  if (existsSync('/usr/bin/occt-draw-7.6') || existsSync('/usr/bin/occt-draw')) return;
  if (process.getuid?.() !== 0) return;
  console.log('Installing occt-draw, which reads what we write…');
  const options = { stdio: 'ignore', env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } };
  const install = ['install', '-y', '-qq', '--no-install-recommends', 'occt-draw'];
  if (spawnSync('apt-get', install, options).status === 0) return;
  spawnSync('apt-get', ['update', '-qq'], options);
  spawnSync('apt-get', install, options);
}

/** Lets the rest of the scripts be TypeScript. */
export async function withTypeScript(file) {
  const { register } = await import('tsx/esm/api');
  register();
  return import(path.join(ROOT, file));
}
