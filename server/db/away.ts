import { setTimeout } from 'node:timers/promises';
import { log } from '#server/log';
import type { Database } from './connection';

/** What PostgreSQL says while it ends, starts, or takes nobody (PostgreSQL, appendix A). */
const STATES = new Set(['57P01', '57P02', '57P03', '53300', '08000', '08001', '08003', '08004', '08006']);
/** What the network says. */
const NETWORK = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
  'EHOSTUNREACH',
  'ENOTFOUND',
  'EAI_AGAIN',
  'ENOENT',
]);
/** What the packages between say, which give no code. */
const WORDS =
  /not currently accepting connections|Connection terminated|Connection ended unexpectedly|connection (timeout|is closed)|Timeout acquiring a connection|Client has encountered a connection error|the database system is (starting up|shutting down|in recovery mode)/i;

/** Seconds after which somebody may ask again. */
export const AWAY_SECONDS = 5;

export const AWAY_WORDS =
  'The database does not answer just now. Nothing was changed. This page tries again by itself; if it stays so, tell whoever runs this server.';

/** Whether an error says that the database cannot be reached just now, and nothing about what was asked. */
export function isAway(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const { code, syscall, message } = error as NodeJS.ErrnoException;
  if (error instanceof AggregateError) return error.errors.length > 0 && error.errors.every(isAway);
  // A socket that is not there is no file that is not there.
  if (code !== undefined && NETWORK.has(code)) return code !== 'ENOENT' || syscall === 'connect';
  return (code !== undefined && STATES.has(code)) || WORDS.test(message) || isAway(error.cause);
}

/** Waits until the database answers. @throws what it answers when it is there and something else is wrong */
export async function untilThere(db: Database): Promise<void> {
  for (let hasSaid = false; ; hasSaid = true) {
    try {
      await db.raw('select 1');
      return;
    } catch (error) {
      if (!isAway(error)) throw error;
      if (!hasSaid) log.warn({ err: error }, 'waiting for the database');
      await setTimeout(1000 * AWAY_SECONDS);
    }
  }
}
