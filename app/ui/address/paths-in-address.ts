import { z } from 'zod';
import { operationAddress } from './addresses';
import { inAddress } from './long-values';

const Paths = z.array(z.string());

/** Paths as one parameter of an address or a form: a JSON list, since a path may hold any character. */
export function writePaths(paths: Iterable<string>): string {
  return JSON.stringify([...paths]);
}

/** @returns none for a text that is no such list */
export function readPaths(text: string | null): Set<string> {
  try {
    return new Set(Paths.parse(JSON.parse(text ?? '[]')));
  } catch {
    return new Set();
  }
}

/** The address of a page that works on some files or folders. */
export function withPaths(projectId: string, page: string, paths: readonly string[]): string {
  return operationAddress(projectId, page, { what: inAddress(projectId, writePaths(paths)) });
}
