import { openPackage } from '#core/jobs/handoff/open-package';
import { FINDINGS, FINE } from './exit';
import { plural, printJson, printLine } from './output';

/** Checks a package: its checksums, its manifest, its links. */
export async function verifyCommand(zip: string, { json }: { json?: boolean }): Promise<number> {
  const opened = await openPackage(zip);
  const result = {
    ok: opened.problems.length === 0,
    name: opened.name,
    files: opened.payload.size,
    links: opened.project.links.length,
    problems: opened.problems,
  };
  if (json) printJson(result);
  else {
    for (const { path: file, problem } of opened.problems) printLine(`${file}: ${problem}`);
    printLine(
      result.ok
        ? `${zip} is whole: ${plural(result.files, 'file')}, ${plural(result.links, 'link')}, every checksum right, every link sound.`
        : `${zip}: ${plural(opened.problems.length, 'problem')}.`,
    );
  }
  return result.ok ? FINE : FINDINGS;
}
