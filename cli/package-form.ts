import { createWriteStream } from 'node:fs';
import { mkdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { PackageChoices } from '#core/jobs/handoff/operation';
import type { PackageList } from '#core/jobs/handoff/package-list';
import type { HandOffPlan } from '#core/jobs/handoff/plan';
import type { Product } from '#core/operation';
import { FINDINGS, FINE } from './exit';
import type { CommandForm } from './operation-command';
import { plural, printJson, printLine, printTable } from './output';

/** `package FILE --out ZIP`: what went in and why, or which links are broken. */
export const PACKAGE_FORM: CommandForm<PackageChoices, HandOffPlan> = {
  tellsHindrance: true,
  options: (command) => command.requiredOption('--out <ZIP>', 'the package to write'),
  async tell({ preview: { files, broken: links, notes }, product, dryRun, json }, { out }) {
    const broken = links.map(({ holder, written, state, reason }) => ({
      from: holder,
      written,
      state,
      reason,
    }));
    const ending = broken.length > 0 ? FINDINGS : FINE;
    if (!product || dryRun) {
      if (json) printJson({ written: null, files: [], broken, notes });
      else {
        for (const { from, written, state, reason } of broken)
          printLine(`${state.padEnd(9)} ${from} -> ${written}: ${reason}`);
        printLine(
          product
            ? `Would write ${out}: ${plural(files.length, 'file')}.`
            : `No package was written: ${plural(broken.length, 'link')} broken. Repair them, or say --allow-broken.`,
        );
      }
      return ending;
    }
    const list = await write(product, out);
    if (json) printJson({ written: out, files: list.files, broken, notes });
    else {
      printTable(
        list.files.map(({ original, path: inside, why }) => [
          original,
          inside === original ? '' : `-> ${inside}`,
          why,
        ]),
      );
      for (const note of notes) printLine(note);
      printLine(`Wrote ${out}: ${plural(list.files.length, 'file')}, ${plural(list.links.length, 'link')}.`);
    }
    return ending;
  },
};

/** The zip appears under its name only when it is whole. */
async function write(product: Product, out: string): Promise<PackageList> {
  const temporary = `${out}.part`;
  await mkdir(path.dirname(path.resolve(out)), { recursive: true });
  const { stream, contents } = await product.write();
  try {
    await pipeline(stream, createWriteStream(temporary));
    await rename(temporary, out);
  } finally {
    await rm(temporary, { force: true });
  }
  return contents as PackageList;
}
