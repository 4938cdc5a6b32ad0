import { DEMO_USERS } from '#demo/account';
import type { Stand } from '../e2e/harness';
import { signIn } from './sign-in';

/** What came of many clients at once. */
export interface Load {
  clients: number;
  seconds: number;
  answers: number;
  /** Answers of 500 and more, answers that took longer than the patience, and pages of a project that a stranger was shown: there may be none. */
  failed: number;
  hung: number;
  letIn: number;
  /** Milliseconds within which half, and 99 of 100, were answered. */
  median: number;
  slowest1: number;
}

const PATIENCE = 30_000;

/** Has many clients look at pages, ask for plans, listen, and knock without a session, for some time. */
export async function load(stand: Stand, clients: number, seconds: number): Promise<Load> {
  const { email, password } = DEMO_USERS.engineer;
  const cookie = await signIn(stand.address, { email, password });
  const pages = [
    'files',
    'structure',
    'repair',
    'sources',
    'hand-off',
    'activity',
    'people',
    'lite',
    'standing',
  ];
  const times: number[] = [];
  const result: Load = { clients, seconds, answers: 0, failed: 0, hung: 0, letIn: 0, median: 0, slowest1: 0 };
  const end = performance.now() + 1000 * seconds;
  const ask = async (address: string, init: RequestInit, isStranger: boolean) => {
    const began = performance.now();
    try {
      const answer = await fetch(address, {
        ...init,
        redirect: 'manual',
        signal: AbortSignal.timeout(PATIENCE),
      });
      await answer.arrayBuffer();
      result.answers++;
      times.push(performance.now() - began);
      if (answer.status >= 500) {
        result.failed++;
        console.log(`${answer.status} ${address}`);
      }
      if (isStranger && answer.status === 200) result.letIn++;
    } catch (error) {
      result.hung++;
      console.log(`${address}: ${(error as Error).message}`);
    }
  };
  const client = async () => {
    while (performance.now() < end) {
      const page = `${stand.project}/${pages[Math.floor(Math.random() * pages.length)]}`;
      const chance = Math.random();
      if (chance < 0.1) await ask(page, {}, true);
      else if (chance < 0.2)
        await ask(
          `${stand.project}/operations?for=move`,
          {
            method: 'POST',
            headers: { Cookie: cookie, 'Content-Type': 'application/json' },
            body: JSON.stringify({
              intent: 'plan',
              operation: 'move',
              choices: { moves: [{ from: 'standard', to: `norm-${Math.floor(1000 * Math.random())}` }] },
            }),
          },
          false,
        );
      else await ask(page, { headers: { Cookie: cookie } }, false);
      await new Promise((resolve) => setTimeout(resolve, 400 * Math.random()));
    }
  };
  await Promise.all(Array.from({ length: clients }, client));
  times.sort((a, b) => a - b);
  result.median = Math.round(times[Math.floor(times.length / 2)] ?? 0);
  result.slowest1 = Math.round(times[Math.floor(0.99 * times.length)] ?? 0);
  return result;
}
