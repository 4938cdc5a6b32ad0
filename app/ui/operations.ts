import { canStartFrom, type FileToWorkOn } from '#core/accepts';
import type { OperationEntry } from '#core/operation';
import { operationAddress } from './addresses';
import { inAddress } from './long-values';
import { writePaths } from './paths-in-address';

/** What can be done with just these files, in the order of the registry; one entry for a page. */
export function operationsFor(
  entries: readonly OperationEntry[],
  files: readonly FileToWorkOn[],
  mayEdit: boolean,
): OperationEntry[] {
  return onePerPage(
    entries.filter(({ accepts, role }) => canStartFrom(accepts, files) && (mayEdit || role === 'viewer')),
  );
}

/** Whether the page of an operation lets one choose what it starts from; others are opened from a selection. */
export function isOwnPage({ accepts: { what } }: Pick<OperationEntry, 'accepts'>): boolean {
  return !['files', 'change', 'received', 'lighter'].includes(what);
}

/** Operations whose pages choose themselves what they start from; one entry for a page. */
export function operationsAlone(entries: readonly OperationEntry[]): OperationEntry[] {
  return onePerPage(entries.filter(isOwnPage));
}

function onePerPage(entries: readonly OperationEntry[]): OperationEntry[] {
  return entries.filter(({ page }, n) => entries.findIndex((other) => other.page === page) === n);
}

/** The address of an operation's page, filled in with what it starts from. */
export function addressOf(
  projectId: string,
  { page, accepts: { what, parameter } }: Pick<OperationEntry, 'page' | 'accepts'>,
  paths: readonly string[],
): string {
  const [path] = paths;
  if (parameter === undefined || path === undefined) return operationAddress(projectId, page);
  return operationAddress(projectId, page, {
    [parameter]: what === 'files' ? inAddress(projectId, writePaths(paths)) : path,
  });
}
