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
