import path from 'node:path';

/** Prints one JSON document. */
export function printJson(value: unknown): void {
  process.stdout.write(`${JSON.stringify(value, null, 2)}\n`);
}

export function printLine(text = ''): void {
  process.stdout.write(`${text}\n`);
}

/** Prints rows as columns, padded to the widest cell; the columns named in `right` are set to the right. */
export function printTable(rows: readonly (readonly string[])[], right: readonly number[] = []): void {
  const widths: number[] = [];
  for (const row of rows)
    row.forEach((cell, n) => {
      widths[n] = Math.max(widths[n] ?? 0, cell.length);
    });
  for (const row of rows)
    printLine(
      row
        .map((cell, n) => (right.includes(n) ? cell.padStart(widths[n]!) : cell.padEnd(widths[n]!)))
        .join('  ')
        .trimEnd(),
    );
}

export function plural(count: number, one: string, many = `${one}s`): string {
  return `${count.toLocaleString('en')} ${count === 1 ? one : many}`;
}

/** A path of this system as projects write it. */
export function slashed(relative: string): string {
  return relative.split(path.sep).join('/');
}
