import { InvalidArgumentError } from 'commander';
import type { SealFileChoices } from '#core/jobs/seal/choices';
import type { SealOutline } from '#core/jobs/seal/plan';
import { FINE, UsageError } from './exit';
import { face, percent } from './given-values';
import type { CommandForm } from './operation-command';
import { applyOutside, outChoices } from './out-file';
import { plural, printJson, printLine } from './output';

/** `seal FILE --out FILE`: one solid, and the proof that it is one. */
export const SEAL_FORM: CommandForm<SealFileChoices, SealOutline> = {
  ownFlags: ['smallerThan', 'keepFaces', 'way', 'within', 'folder', 'pattern', 'formats', 'loose'],
  options: (command) =>
    command
      .requiredOption('--out <FILE>', 'the new file')
      .option('--exact', 'exactly by the kernel, or not at all')
      .option('--within <MM>', 'of facets that lie no further off', millimetres)
      .option('--smaller-than <PERCENT>', 'leave out components below so many percent of the whole', percent)
      .option('--keep-face <ID...>', 'faces that stay with all their holes: #123, or FILE#123')
      .option('--drop-loose', 'leave out what touches nothing'),
  choices: ({ out, exact, within, smallerThan, keepFace = [], dropLoose }, _, root) => {
    if (exact && within !== undefined) throw new UsageError('Choose --exact or --within, not both.');
    return {
      ...outChoices(out, root),
      ...(exact && { way: 'exact' as const }),
      ...(within !== undefined && { way: 'facets' as const, within }),
      ...(smallerThan !== undefined && { smallerThan }),
      ...(keepFace.length > 0 && { keepFaces: keepFace.map(face) }),
      ...(dropLoose && { loose: 'drop' as const }),
    };
  },
  apply: ({ change }, { out }, files) => applyOutside(change, out, files.root),
  tell({ preview: { report, reduced }, change, json, dryRun }, { out }) {
    if (json) {
      printJson({ file: out, applied: !dryRun, ...report, warnings: change.warnings });
      return FINE;
    }
    printLine(
      `one solid   ${report.way === 'exact' ? 'exact' : 'of facets'}, ${report.isValid ? 'valid' : 'NOT valid'}, ${report.isClosed ? 'closed' : 'NOT closed'}, one outer shell, no inner one`,
    );
    printLine(
      `faces       ${report.before.faces.toLocaleString('en')} -> ${report.after.faces.toLocaleString('en')}`,
    );
    printLine(
      `bytes       ${report.before.bytes.toLocaleString('en')} -> ${report.after.bytes.toLocaleString('en')}`,
    );
    printLine(
      `sections    ${report.sections.map((part) => `${(100 * part).toFixed(2)} %`).join(', ')} filled (x, y, z)`,
    );
    printLine(`pins        ${report.pins}, hollows filled ${report.hollows}`);
    printLine(`outside     lies at most ${report.deviation.max.toFixed(3)} mm off`);
    printLine(`names       ${report.names.length === 0 ? 'none of the original' : report.names.join(', ')}`);
    for (const { file, face: id, identical, off } of report.kept)
      printLine(
        `kept        ${file}#${id}: ${off !== undefined ? `within ${off.toFixed(4)} mm` : identical ? 'identical' : 'NOT identical'}`,
      );
    for (const { names, volume } of report.loose)
      printLine(`left out    ${names.join(', ')} (${volume.toFixed(0)} mm³): it touches nothing`);
    for (const warning of change.warnings) printLine(`note        ${warning}`);
    printLine(
      `${dryRun ? 'Would write' : 'Wrote'} ${out}: ${plural(reduced.whole.occurrences.length, 'component')} as one solid${dryRun ? ' (not done: dry run)' : ''}.`,
    );
    return FINE;
  },
};

function millimetres(text: string): number {
  const value = Number(text);
  if (!(value > 0)) throw new InvalidArgumentError('It is a length in mm.');
  return value;
}
