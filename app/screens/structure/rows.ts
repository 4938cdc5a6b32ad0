interface TreeRow {
  key: string;
  parent: number;
}

/**
 * Rows that the table shows: those below no closed row; with a filter, those that fit it and all above them.
 * @param rows in table order, parents before their children
 */
export function shownRows<Row extends TreeRow>(
  rows: readonly Row[],
  closed: ReadonlySet<string>,
  filter: ((row: Row) => boolean) | null,
): Row[] {
  if (filter !== null) {
    const fits = new Set<number>();
    rows.forEach((row, n) => {
      if (!filter(row)) return;
      for (let at = n; at >= 0 && !fits.has(at); at = rows[at]!.parent) fits.add(at);
    });
    return rows.filter((_, n) => fits.has(n));
  }
  const away = new Set<number>();
  return rows.filter(({ parent }, n) => {
    const hidden = parent >= 0 && (away.has(parent) || closed.has(rows[parent]!.key));
    if (hidden) away.add(n);
    return !hidden;
  });
}

/** A row and all below it, by index. */
export function below(rows: readonly TreeRow[], index: number): Set<number> {
  const found = new Set([index]);
  for (let n = index + 1; n < rows.length; n++) if (found.has(rows[n]!.parent)) found.add(n);
  return found;
}

/** The rows above a row, the top one first. */
export function rowsAbove<Row extends TreeRow>(rows: readonly Row[], index: number): Row[] {
  const found: Row[] = [];
  for (let n = rows[index]!.parent; n >= 0; n = rows[n]!.parent) found.unshift(rows[n]!);
  return found;
}

/** Of some rows those that are below none of the others. */
export function topmost<Row extends TreeRow>(rows: readonly Row[], some: readonly number[]): Row[] {
  const chosen = new Set(some.map((n) => rows[n]!));
  return some.flatMap((n) => (rowsAbove(rows, n).some((row) => chosen.has(row)) ? [] : rows[n]!));
}

/**
 * Keys of the topmost rows that are neither shown rows nor above one: hidden, they leave those alone.
 * @param shown what is below the chosen rows, themselves included
 */
export function rowsBeside(
  rows: readonly { key: string; parent: number }[],
  chosen: readonly number[],
  shown: ReadonlySet<number>,
): string[] {
  const keep = new Set(shown);
  for (const n of chosen) for (let row = n; row >= 0; row = rows[row]!.parent) keep.add(row);
  return rows.flatMap(({ key, parent }, n) =>
    !keep.has(n) && (parent < 0 || keep.has(parent)) ? [key] : [],
  );
}
