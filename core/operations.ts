import { STAND_IN } from '#core/jobs/stand-in/operation';
import { CUT } from './jobs/cut/operation';
import { DETACH, followBy } from './jobs/follow/operation';
import { SPLIT_AGAIN } from './jobs/follow/plan';
import { GROUPS_AGAIN } from './jobs/groups/again';
import { GROUPS } from './jobs/groups/operation';
import { PACKAGE } from './jobs/handoff/operation';
import { IMPORT, UNPACK } from './jobs/import/operation';
import { LITE_AGAIN } from './jobs/lite/again';
import { LITE } from './jobs/lite/operation';
import { MOVE } from './jobs/move/operation';
import { REMOVE } from './jobs/remove/operation';
import { REPAIR } from './jobs/repair/operation';
import { RENEW } from './jobs/repair/renew-operation';
import { SEAL } from './jobs/seal/operation';
import { OUTSIDE_AGAIN } from './jobs/seal/outside-again';
import { SPLIT } from './jobs/split/operation';
import { UNDO } from './jobs/undo/operation';
import type { Operation, OperationEntry } from './operation';

/** Whatever makes derived files says here how they are made again. */
const DERIVATIONS = [SPLIT_AGAIN, LITE_AGAIN, GROUPS_AGAIN, OUTSIDE_AGAIN];

/** Every operation, in the order of its place. */
// biome-ignore lint/suspicious/noExplicitAny: each has choices and a preview of its own
export const OPERATIONS: readonly Operation<any, any>[] = [
  REPAIR,
  RENEW,
  followBy(DERIVATIONS),
  DETACH,
  SPLIT,
  CUT,
  PACKAGE,
  LITE,
  STAND_IN,
  GROUPS,
  SEAL,
  MOVE,
  REMOVE,
  UNDO,
  IMPORT,
  UNPACK,
];

/** Every operation, as menus and the palette show it. */
export function operationEntries(): OperationEntry[] {
  return OPERATIONS.map(operationEntry);
}

/** What menus and the palette show of an operation: plain data. */
export function operationEntry(operation: OperationEntry): OperationEntry {
  const { name, title, purpose, place, page, pageTitle, role, accepts } = operation;
  return { name, title, purpose, place, page, pageTitle, role, accepts };
}

/** The operation of a name, if there is one. */
export function operationNamed(name: string): (typeof OPERATIONS)[number] | undefined {
  return OPERATIONS.find((candidate) => candidate.name === name);
}
