/** Prints one JSON document. */
export function printJson(value: unknown): void {
  process.stdout.write(`${JSON.stringify(value, null, 2)}\n`);
}

export function printLine(text = ''): void {
  process.stdout.write(`${text}\n`);
}

export function printLines(lines: readonly string[]): void {
  if (lines.length > 0) printLine(lines.join('\n'));
}
