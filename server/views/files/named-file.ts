import { data } from 'react-router';
import type { Project } from '#core/project/scan/project';

/**
 * Holds an address that names a file to what is there.
 * @param path what the address names; null for nothing
 * @throws 404 for a file that is not in the project, instead of another one being shown
 */
export function requireNamed(project: Project, path: string | null): void {
  if (path === null || project.files.has(path)) return;
  throw data(
    `There is no file ${path} in this project. It may have been renamed, moved or deleted since: look for it in Files, or in Activity.`,
    { status: 404 },
  );
}
