import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { stemOf } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import { leaksIn } from '#core/geometry/leaks/leaks';
import { FINDINGS, FINE, UsageError } from './exit';
import { plural, printJson, printLine, slashed } from './output';

/** `leaks FILE`: what can be told from a file besides the outside of its bodies. */
export async function leaksCommand(file: string, { json = false }: { json?: boolean }): Promise<number> {
  const bytes = await readFile(path.resolve(file)).catch(() => {
    throw new UsageError(`${file} cannot be read: is it there, and a file?`);
  });
  const leaks = leaksIn(Part21File.read(bytes), stemOf(slashed(file)));
  if (json) {
    printJson({ file, leaks });
    return leaks.length > 0 ? FINDINGS : FINE;
  }
  for (const { kind, count, examples, remedy } of leaks) {
    printLine(
      `${kind.padEnd(16)}${plural(count, 'place')}: ${examples.map((text) => `“${text}”`).join(', ')}`,
    );
    printLine(`${' '.repeat(16)}${remedy}`);
  }
  if (leaks.length === 0) printLine('It tells nothing besides the outside of its bodies.');
  return leaks.length > 0 ? FINDINGS : FINE;
}
