import { CUT } from './cut/operation';
import { DETACH, followBy } from './follow/operation';
import { SPLIT_AGAIN } from './follow/plan';
import { GROUPS_AGAIN } from './groups/again';
import { GROUPS } from './groups/operation';
import { PACKAGE } from './handoff/operation';
import { IMPORT, UNPACK } from './import/operation';
import { LITE_AGAIN } from './lite/again';
import { LITE } from './lite/operation';
import { STAND_IN } from './lite/stand-in';
import { MOVE } from './move/operation';
import type { Operation, OperationEntry } from './operation';
import { REMOVE } from './remove/operation';
import { REPAIR } from './repair/operation';
import { RENEW } from './repair/renew-operation';
import { SEAL } from './seal/operation';
import { OUTSIDE_AGAIN } from './seal/outside-again';
import { SPLIT } from './split/operation';
import { UNDO } from './undo/operation';

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
