import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { keepRunning } from './keep-running.mjs';

// `npm run start:web` and `npm run start:worker`: one process of the built application, started again when it dies.
const NAMES = { web: 'web process', worker: 'job worker' };
const which = process.argv[2];
const built = path.join(import.meta.dirname, '..', 'build/node', `${which}.mjs`);
if (!(which in NAMES) || !existsSync(built)) {
  console.error('Build the application first: npm run build');
  process.exit(2);
}
const env = { ...process.env, NODE_ENV: 'production' };
const kept = keepRunning(NAMES[which], () =>
  spawn(process.execPath, ['--enable-source-maps', built], { env, stdio: 'inherit' }),
);
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void kept.end());
await kept.ended;
