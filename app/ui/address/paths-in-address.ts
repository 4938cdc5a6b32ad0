import { operationAddress } from './addresses';
import { inAddress } from './long-values';

/** Paths as one parameter of an address or a form: a JSON list, since a path may hold any character. */
export function writePaths(paths: Iterable<string>): string {
  return JSON.stringify([...paths]);
}

/** @returns none for a text that is no such list */
export function readPaths(text: string | null): Set<string> {
  try {
    const paths: unknown = JSON.parse(text ?? '[]');
    const isList = Array.isArray(paths) && paths.every((path) => typeof path === 'string');
    return new Set(isList ? paths : []);
  } catch {
    return new Set();
  }
}

/** The address of a page that works on some files or folders. */
export function withPaths(projectId: string, page: string, paths: readonly string[]): string {
  return operationAddress(projectId, page, { what: inAddress(projectId, writePaths(paths)) });
}
