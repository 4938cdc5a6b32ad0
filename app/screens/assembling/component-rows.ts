import type { AssemblyView } from '#server/views/operations/assembly-view';

/** Rows of the stage that are some components, by their keys, or below them. */
export function rowsOf(rows: AssemblyView['rows'], keys: ReadonlySet<string>): ReadonlySet<number> {
  const found = new Set<number>();
  // What is above stands before.
  for (const [n, { key, parent }] of rows.entries()) if (keys.has(key) || found.has(parent)) found.add(n);
  return found;
}

/** The key of the component that a row of the stage is part of. */
export function componentOf(
  rows: AssemblyView['rows'],
  row: number,
  which: 'topmost' | 'nearest',
): string | null {
  let found: string | null = null;
  for (let at = row; (rows[at]?.parent ?? -1) >= 0; at = rows[at]!.parent)
    if (rows[at]!.key !== '' && (found === null || which === 'topmost')) found = rows[at]!.key;
  return found;
}
