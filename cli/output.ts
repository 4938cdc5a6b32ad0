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

/** Prints bytes as they are, and waits until whoever reads has taken them. */
export async function printBytes(bytes: Uint8Array): Promise<void> {
  await new Promise<void>((resolve) => process.stdout.write(bytes, () => resolve()));
}
