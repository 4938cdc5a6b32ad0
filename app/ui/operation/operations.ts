import { canStartFrom, type FileToWorkOn } from '#core/accepts';
import type { RegistryEntry } from '#core/entry';
import { operationAddress } from '../address/addresses';
import { inAddress } from '../address/long-values';
import { writePaths } from '../address/paths-in-address';

/** What can be done with just these files, in the order of the registry; one entry for a page. */
export function operationsFor(
  entries: readonly RegistryEntry[],
  files: readonly FileToWorkOn[],
  mayEdit: boolean,
): RegistryEntry[] {
  return onePerPage(
    entries.filter(({ accepts, role }) => canStartFrom(accepts, files) && (mayEdit || role === 'viewer')),
  );
}

/** Whether a page lets one choose what it starts from; others are opened from a selection. */
export function isOwnPage({ kind, accepts: { what } }: Pick<RegistryEntry, 'kind' | 'accepts'>): boolean {
  if (kind === 'report') return what !== 'change';
  return !['files', 'change', 'received', 'lighter'].includes(what);
}

/** Operations whose pages choose themselves what they start from; one entry for a page. */
export function operationsAlone(entries: readonly RegistryEntry[]): RegistryEntry[] {
  return onePerPage(entries.filter(isOwnPage));
}

function onePerPage(entries: readonly RegistryEntry[]): RegistryEntry[] {
  return entries.filter(({ page }, n) => entries.findIndex((other) => other.page === page) === n);
}

/** The address of an operation's page, filled in with what it starts from. */
export function addressOf(
  projectId: string,
  { page, accepts: { what, parameter, also } }: Pick<RegistryEntry, 'page' | 'accepts'>,
  paths: readonly string[],
): string {
  const [path, ...more] = paths;
  if (parameter === undefined || path === undefined) return operationAddress(projectId, page);
  return operationAddress(projectId, page, {
    [parameter]: what === 'files' ? inAddress(projectId, writePaths(paths)) : path,
    ...(also && more.length > 0 && { [also]: inAddress(projectId, writePaths(more)) }),
  });
}
