import { AsyncLocalStorage } from 'node:async_hooks';
import { ofTheProcess } from './of-the-process';

/** A request while it is answered: its number, and who turned out to ask for what. */
export interface Asked {
  id: string;
  /** The person's id. */
  user?: string;
  project?: string;
}

const requests = ofTheProcess('asked', () => new AsyncLocalStorage<Asked>());

/** Answers a request; whatever happens on the way knows which one it is. */
export function answering<Result>(asked: Asked, answer: () => Result): Result {
  return requests.run(asked, answer);
}

/** The request that is being answered; undefined outside of any. */
export function asked(): Asked | undefined {
  return requests.getStore();
}

/** Says who asks, for what is logged of the request. */
export function sayWho(who: Pick<Asked, 'user' | 'project'>): void {
  Object.assign(asked() ?? {}, who);
}
