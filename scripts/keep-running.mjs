/** Milliseconds before what died is started again: longer each time, until it has lived for a while. */
const [FIRST_PAUSE, LONGEST_PAUSE, STEADY] = [500, 30_000, 60_000];

/**
 * Keeps a process running: what dies, by itself or by a signal, is started again, and it is said. One that ends in order was asked to.
 * @param {string} name as people call it
 * @param {() => import('node:child_process').ChildProcess} start
 * @param {{ say?: (words: string) => void, pause?: number }} [options]
 */
export function keepRunning(name, start, { say = console.error, pause: first = FIRST_PAUSE } = {}) {
  let pause = first;
  let isEnding = false;
  let timer;
  let child;
  let tellEnded;
  /** Resolves when it has ended and is not started again. */
  const ended = new Promise((resolve) => {
    tellEnded = resolve;
  });
  const run = () => {
    const began = Date.now();
    child = start();
    child.once('exit', (code, signal) => {
      if (isEnding || code === 0) return tellEnded();
      if (Date.now() - began > STEADY) pause = first;
      const how = signal ? `was ended by ${signal}` : `ended with code ${code}`;
      say(`The ${name} ${how}. It is started again in ${pause / 1000} s.`);
      timer = setTimeout(run, pause);
      pause = Math.min(LONGEST_PAUSE, 2 * pause);
    });
  };
  run();
  return {
    ended,
    get child() {
      return child;
    },
    /** Asks it to end, and ends it when it does not within a time. */
    async end(patience = 15_000) {
      isEnding = true;
      clearTimeout(timer);
      if (child.exitCode !== null || child.signalCode !== null) return tellEnded();
      child.kill('SIGTERM');
      const cut = setTimeout(() => child.kill('SIGKILL'), patience);
      await ended;
      clearTimeout(cut);
    },
  };
}
