/** Rows as columns, padded to the widest cell; the columns named in `right` are set to the right. */
export function columns(rows: readonly (readonly string[])[], right: readonly number[] = []): string[] {
  const widths: number[] = [];
  for (const row of rows)
    row.forEach((cell, n) => {
      widths[n] = Math.max(widths[n] ?? 0, cell.length);
    });
  return rows.map((row) =>
    row
      .map((cell, n) => (right.includes(n) ? cell.padStart(widths[n]!) : cell.padEnd(widths[n]!)))
      .join('  ')
      .trimEnd(),
  );
}

/** @example plural(1, 'body', 'bodies') // '1 body' */
export function plural(count: number, one: string, many = `${one}s`): string {
  return `${count.toLocaleString('en')} ${count === 1 ? one : many}`;
}

/** The first few names. @example someOf(['a', 'b', 'c'], 2) // 'a, b and 1 more' */
export function someOf(names: readonly string[], most: number): string {
  const more = names.length - most;
  return more > 0
    ? `${names.slice(0, most).join(', ')} and ${more.toLocaleString('en')} more`
    : names.join(', ');
}
