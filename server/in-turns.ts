import { setImmediate } from 'node:timers/promises';
import type { Steps } from '#core/steps';

/** Milliseconds that work may hold the process before others have their turn. */
const TURN = 15;

/** Runs steps so that other requests are answered in between. */
export async function inTurns<Result>(steps: Steps<Result>): Promise<Result> {
  const rest = resting();
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
    await rest();
  }
}

/** For work that is not made of steps: to be awaited between its pieces, and lets others in when their turn has come. */
export function resting(): () => Promise<void> {
  let ends = performance.now() + TURN;
  return async () => {
    if (performance.now() < ends) return;
    await setImmediate();
    ends = performance.now() + TURN;
  };
}
