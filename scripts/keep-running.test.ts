import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { describe, expect, it } from 'vitest';
import { keepRunning } from './keep-running.mjs';

/** A process that says that it lives, and waits. */
const start = (script = 'setInterval(() => {}, 1000)') =>
  spawn(process.execPath, ['-e', script], { stdio: 'ignore' });

describe('a process that is kept running', () => {
  it('is started again when it dies by a signal, and it is said', async () => {
    const said: string[] = [];
    const kept = keepRunning('helper', () => start(), { say: (words) => said.push(words), pause: 20 });
    const first = kept.child.pid!;
    process.kill(first, 'SIGKILL');
    await expect.poll(() => kept.child.pid !== first && kept.child.exitCode === null).toBe(true);
    expect(said).toEqual(['The helper was ended by SIGKILL. It is started again in 0.02 s.']);
    await kept.end();
    expect(kept.child.signalCode).toBe('SIGTERM');
    expect(said).toHaveLength(1);
  });

  it('is started again after a longer pause each time when it dies at once', async () => {
    const said: string[] = [];
    const kept = keepRunning('helper', () => start('process.exit(3)'), {
      say: (words) => said.push(words),
      pause: 10,
    });
    await expect.poll(() => said.length).toBeGreaterThan(2);
    await kept.end();
    expect(said.slice(0, 3)).toEqual(
      [0.01, 0.02, 0.04].map((pause) => `The helper ended with code 3. It is started again in ${pause} s.`),
    );
  });

  it('stays away when it ended in order', async () => {
    const said: string[] = [];
    const kept = keepRunning('helper', () => start('process.exit(0)'), { say: (words) => said.push(words) });
    await kept.ended;
    expect(said).toEqual([]);
  });

  it('is ended by force when it does not end in time', async () => {
    const deaf =
      "process.on('SIGTERM', () => {}); setInterval(() => {}, 1000); process.stdout.write('there')";
    const kept = keepRunning('helper', () =>
      spawn(process.execPath, ['-e', deaf], { stdio: ['ignore', 'pipe', 'ignore'] }),
    );
    // It must be there to hear it.
    await once(kept.child.stdout!, 'data');
    await kept.end(50);
    expect(kept.child.signalCode).toBe('SIGKILL');
  });
});
