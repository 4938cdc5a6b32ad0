import { mkdir } from 'node:fs/promises';
import { Draft, listed } from '#core/change/draft';
import { FolderFileSet } from '#core/change/folder';
import { isDamaged, openPackage } from '#core/handoff/open-package';
import { type OnConflict, planUnpack } from '#core/handoff/unpack';
import { FINDINGS, FINE } from './exit';
import { plural, printJson, printLine } from './output';

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

export async function unpackCommand(
  zip: string,
  options: { to: string; onConflict: OnConflict; json?: boolean },
): Promise<number> {
  const opened = await openPackage(zip);
  if (isDamaged(opened)) {
    if (options.json) printJson({ written: [], conflicts: [], problems: opened.problems });
    else {
      for (const { path: file, problem } of opened.problems) printLine(`${file}: ${problem}`);
      printLine(`${zip} is damaged, so nothing was unpacked. Ask for it again.`);
    }
    return FINDINGS;
  }
  await mkdir(options.to, { recursive: true });
  const files = await FolderFileSet.open(options.to);
  const draft = new Draft(files, listed(await files.list()));
  const plan = await planUnpack({ draft }, { opened, into: '', onConflict: options.onConflict });
  if (plan.change.changes.length > 0) await files.apply(plan.change);
  const written = plan.laidOut.map(({ path: file }) => file);
  if (options.json) printJson({ written, conflicts: plan.conflicts, problems: opened.problems });
  else {
    for (const { path: file, outcome } of plan.conflicts) printLine(`${file}: ${outcome}`);
    for (const { path: file, problem } of opened.problems) printLine(`${file}: ${problem}`);
    printLine(`Unpacked ${plural(written.length, 'file')} to ${options.to}.`);
  }
  return opened.problems.length > 0 ? FINDINGS : FINE;
}
