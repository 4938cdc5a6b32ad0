import { CUT } from './cut/operation';
import { DETACH, followBy } from './follow/operation';
import { SPLIT_AGAIN } from './follow/plan';
import { PACKAGE } from './handoff/operation';
import { IMPORT, UNPACK } from './import/operation';
import { MOVE } from './move/operation';
import type { Operation, OperationEntry } from './operation';
import { REMOVE } from './remove/operation';
import { REPAIR } from './repair/operation';
import { RENEW } from './repair/renew-operation';
import { SPLIT } from './split/operation';
import { UNDO } from './undo/operation';

/** Whatever makes derived files says here how they are made again. */
const DERIVATIONS = [SPLIT_AGAIN];

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
