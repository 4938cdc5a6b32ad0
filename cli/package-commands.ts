import { createWriteStream } from 'node:fs';
import { mkdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Draft, listed } from '#core/change/draft';
import { FolderFileSet } from '#core/change/folder';
import { isDamaged, openPackage } from '#core/handoff/open-package';
import { HandOffOptions, planHandOff } from '#core/handoff/plan';
import { type OnConflict, planUnpack } from '#core/handoff/unpack';
import { writePackage } from '#core/handoff/write-package';
import { FINDINGS, FINE } from './exit';
import { plural, printJson, printLine, printTable } from './output';
import { openAround } from './scan-commands';

interface PackageOptions {
  out: string;
  root?: string;
  flatten?: boolean;
  prefix: string;
  suffix: string;
  allowBroken?: boolean;
  json?: boolean;
}

export async function packageCommand(file: string, given: PackageOptions): Promise<number> {
  const { files, project, path: root } = await openAround(file, given.root);
  const options = HandOffOptions.parse({
    root,
    flatten: given.flatten,
    prefix: given.prefix,
    suffix: given.suffix,
    allowBroken: given.allowBroken,
  });
  const plan = planHandOff(project, options);
  const broken = plan.broken.map(({ from, written, state, reason }) => ({ from, written, state, reason }));
  if (broken.length > 0 && !options.allowBroken) {
    if (given.json) printJson({ written: null, files: [], broken, notes: plan.notes });
    else {
      for (const { from, written, state, reason } of broken)
        printLine(`${state.padEnd(9)} ${from} -> ${written}: ${reason}`);
      printLine(
        `No package was written: ${plural(broken.length, 'link')} broken. Repair them, or say --allow-broken.`,
      );
    }
    return FINDINGS;
  }
  // The zip appears under its name only when it is whole.
  const temporary = `${given.out}.part`;
  await mkdir(path.dirname(path.resolve(given.out)), { recursive: true });
  const { zip, list } = await writePackage(files, plan, { now: new Date() });
  try {
    await pipeline(zip, createWriteStream(temporary));
    await rename(temporary, given.out);
  } finally {
    await rm(temporary, { force: true });
  }
  if (given.json) printJson({ written: given.out, files: list.files, broken, notes: plan.notes });
  else {
    printTable(
      list.files.map(({ original, path: inside, why }) => [
        original,
        inside === original ? '' : `-> ${inside}`,
        why,
      ]),
    );
    for (const note of plan.notes) printLine(note);
    printLine(
      `Wrote ${given.out}: ${plural(list.files.length, 'file')}, ${plural(list.links.length, 'link')}.`,
    );
  }
  return broken.length > 0 ? FINDINGS : FINE;
}

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
