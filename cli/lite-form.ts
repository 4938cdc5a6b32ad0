import { InvalidArgumentError } from 'commander';
import { OPENING_KINDS, type OpeningKind } from '#core/geometry/fill/opening-kinds';
import type { LiteFileChoices } from '#core/jobs/lite/choices';
import type { LiteOutline } from '#core/jobs/lite/plan';
import { FINE } from './exit';
import { face, percent } from './given-values';
import type { CommandForm } from './operation-command';
import { applyOutside, outChoices } from './out-file';
import { plural, printJson, printLine, printTable } from './output';

const FILLED: { [word: string]: OpeningKind[] } = {
  holes: ['hole', 'counterbore'],
  pockets: ['pocket'],
  voids: ['void'],
  all: [...OPENING_KINDS],
};

/** `lite FILE --out FILE`: what is left out, what is filled, and the report. */
export const LITE_FORM: CommandForm<LiteFileChoices, LiteOutline> = {
  ownFlags: ['smallerThan', 'fill', 'fillBelow', 'keepFaces', 'form', 'folder', 'pattern', 'off'],
  options: (command) =>
    command
      .requiredOption('--out <FILE>', 'the new file')
      .option('--smaller-than <PERCENT>', 'leave out components below so many percent of the whole', percent)
      .option('--fill <KINDS>', 'what is filled, with commas between: holes, pockets, voids', kinds)
      .option('--fill-below <MM>', 'fill what has no larger mouth, mm', Number)
      .option('--keep-face <ID...>', 'faces that stay with all their holes: #123, or FILE#123')
      .option('--one-part', 'one part in place of an assembly of few parts'),
  choices: ({ out, smallerThan, fill, fillBelow, keepFace = [], onePart, outside }, _, root) => {
    return {
      ...outChoices(out, root),
      ...(smallerThan !== undefined && { smallerThan }),
      ...(fill !== undefined && { fill }),
      ...(fillBelow !== undefined && { fillBelow }),
      ...(keepFace.length > 0 && { keepFaces: keepFace.map(face) }),
      ...(onePart && { form: 'part' as const }),
      ...(outside && { outside }),
    };
  },
  apply: ({ change }, { out }, files) => applyOutside(change, out, files.root),
  tell({ preview: { report, whole }, change, json, dryRun }, { out }) {
    if (json) {
      printJson({ file: out, applied: !dryRun, ...report, warnings: change.warnings });
      return FINE;
    }
    const { before, after, removed, kept, box, deviation } = report;
    printTable(
      (['occurrences', 'distinctParts', 'bodies', 'faces', 'triangles', 'bytes'] as const).map((name) => [
        name === 'distinctParts' ? 'different parts' : name,
        before[name].toLocaleString('en'),
        '->',
        after[name].toLocaleString('en'),
      ]),
      [1, 3],
    );
    printLine();
    const out6 = (numbers: readonly number[]) => numbers.map((value) => value.toFixed(3)).join(' ');
    printLine(`box      ${out6(box.before)} mm`);
    printLine(`         ${out6(box.after)} mm`);
    for (const { file, face: id, identical } of kept)
      printLine(`kept     ${file}#${id}: ${identical ? 'identical' : 'NOT identical'}`);
    printLine(
      `filled   ${plural(removed.holes, 'hole')}, ${plural(removed.pockets, 'pocket')}, ${plural(removed.voids, 'void')}`,
    );
    printLine(`outside  lies at most ${deviation.max.toFixed(3)} mm from what is left`);
    for (const { kind, count, examples } of report.leaks)
      printLine(`tells    ${kind}: ${plural(count, 'place')}, such as “${examples[0] ?? ''}”`);
    for (const warning of change.warnings) printLine(`note     ${warning}`);
    printLine(
      `${dryRun ? 'Would write' : 'Wrote'} ${out}, made lighter than ${whole.root}${dryRun ? ' (not done: dry run)' : ''}.`,
    );
    return FINE;
  },
};

function kinds(text: string): OpeningKind[] {
  return text.split(',').flatMap((word) => {
    const found = FILLED[word.trim()];
    if (!found)
      throw new InvalidArgumentError('It is holes, pockets, voids, or several with commas between.');
    return found;
  });
}
