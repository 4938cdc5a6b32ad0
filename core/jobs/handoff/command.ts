import { createWriteStream, statSync } from 'node:fs';
import { mkdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { CommandForm } from '#core/command/form';
import { columns, plural } from '#core/command/words';
import type { PackageChoices } from '#core/jobs/handoff/choices';
import type { PackageList } from '#core/jobs/handoff/package-list';
import type { HandOffPlan } from '#core/jobs/handoff/plan';
import type { Product } from '#core/planned';
import { Refusal } from '#core/refusal';

/** `package FILE --out ZIP`: what went in and why, or which links are broken. */
export const PACKAGE_FORM: CommandForm<PackageChoices, HandOffPlan> = {
  tellsHindrance: true,
  flags: [{ flag: '--out <ZIP>', words: 'the package to write', isRequired: true }],
  async tell({ preview: { files, broken: links, notes }, product, dryRun }, { out }) {
    const broken = links.map(({ holder, written, state, reason }) => ({
      from: holder,
      written,
      state,
      reason,
    }));
    const hasFindings = broken.length > 0;
    const lines: string[] = [];
    if (!product || dryRun) {
      for (const { from, written, state, reason } of broken)
        lines.push(`${state.padEnd(9)} ${from} -> ${written}: ${reason}`);
      lines.push(
        product
          ? `Would write ${out}: ${plural(files.length, 'file')}.`
          : `No package was written: ${plural(broken.length, 'link')} broken. Repair them, or say --allow-broken.`,
      );
      return { json: { written: null, files: [], broken, notes }, lines, hasFindings };
    }
    const list = await write(product, out);
    lines.push(
      ...columns(
        list.files.map(({ original, path: inside, why }) => [
          original,
          inside === original ? '' : `-> ${inside}`,
          why,
        ]),
      ),
    );
    for (const note of notes) lines.push(note);
    lines.push(`Wrote ${out}: ${plural(list.files.length, 'file')}, ${plural(list.links.length, 'link')}.`);
    return { json: { written: out, files: list.files, broken, notes }, lines, hasFindings };
  },
};

/** The zip appears under its name only when it is whole. */
async function write(product: Product, out: string): Promise<PackageList> {
  if (statSync(out, { throwIfNoEntry: false })?.isDirectory())
    throw new Refusal(`${out} is a folder: say how the zip in it shall be called.`);
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
