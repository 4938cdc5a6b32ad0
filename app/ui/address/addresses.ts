import { href } from 'react-router';

type Addresses = Parameters<typeof href>[0];
/** Whatever stands below a project and needs nothing else to be named. */
type Below<Address> = Address extends `/projects/:projectId/${infer Page}`
  ? Page extends `${string}:${string}`
    ? never
    : Page
  : never;
export type ProjectPage = Below<Addresses>;

/**
 * The address of something in a project. What is there is checked when the application is built.
 * @param search what stands behind the question mark; null and undefined do not
 */
export function addressIn(
  projectId: string,
  page: ProjectPage,
  search: { [name: string]: string | null | undefined } = {},
): string {
  const given = Object.entries(search).flatMap(([name, value]) => (value == null ? [] : [[name, value]]));
  const written = writtenSearch(given);
  return href(`/projects/:projectId/${page}`, { projectId }) + (written && `?${written}`);
}

/** The address of an operation's page: the registry says which; a test holds it to the routes. */
export function operationAddress(
  projectId: string,
  page: string,
  search?: { [name: string]: string | null | undefined },
): string {
  return addressIn(projectId, page as ProjectPage, search);
}

/** Where an operation is planned and applied, or a report looked at. */
export function askingAddress(projectId: string, name: string): string {
  return addressIn(projectId, 'operations', { for: name });
}

/** The address of one kept version of a file, for downloading it under the name of that file: others may have the same content. */
export function downloadAddress(projectId: string, sha256: string, path: string): string {
  return `${href('/projects/:projectId/content/:sha256', { projectId, sha256 })}?${writtenSearch([['path', path]])}`;
}

/** The address of one version of a file as a page shows it. */
export function shownAddress(projectId: string, sha256: string, path: string): string {
  return `${href('/projects/:projectId/shown/:sha256', { projectId, sha256 })}?${writtenSearch([['path', path]])}`;
}

/** What stands behind the question mark. A space is written as %20, which every reader of addresses understands. */
function writtenSearch(given: string[][]): string {
  return new URLSearchParams(given).toString().replaceAll('+', '%20');
}
