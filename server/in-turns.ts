import { setImmediate } from 'node:timers/promises';
import type { Steps } from '#core/steps';

/** Milliseconds that work may hold the process before others have their turn. */
const TURN = 15;

/** Runs steps so that other requests are answered in between. */
export async function inTurns<Result>(steps: Steps<Result>): Promise<Result> {
  for (;;) {
    const ends = performance.now() + TURN;
    do {
      const { done, value } = steps.next();
      if (done) return value;
    } while (performance.now() < ends);
    await setImmediate();
  }
}
