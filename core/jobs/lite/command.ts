import type { CommandForm } from '#core/command/form';
import { face, millimetres, percent } from '#core/command/given-values';
import { applyOutside, outChoices } from '#core/command/out-file';
import { columns, plural } from '#core/command/words';
import { FILL_KINDS, type FillKind } from '#core/geometry/fill/opening-kinds';
import type { Budget, LiteFileChoices } from '#core/jobs/lite/choices';
import type { LiteOutline } from '#core/jobs/lite/plan';
import { Refusal } from '#core/refusal';

const FILLED: { [word: string]: FillKind[] } = {
  holes: ['hole', 'counterbore'],
  pockets: ['pocket'],
  voids: ['void'],
  slots: ['slot'],
  engravings: ['engraving'],
  perforations: ['perforation'],
  all: [...FILL_KINDS],
};

/** `lite FILE --out FILE`: what is left out, what is filled, and the report. */
export const LITE_FORM: CommandForm<LiteFileChoices, LiteOutline> = {
  ownFlags: ['smallerThan', 'fill', 'fillBelow', 'keepFaces', 'form', 'folder', 'pattern', 'off', 'budget'],
  flags: [
    { flag: '--out <FILE>', words: 'the new file', isRequired: true },
    {
      flag: '--smaller-than <PERCENT>',
      words: 'leave out components below so many percent of the whole',
      read: percent,
    },
    {
      flag: '--fill <KINDS>',
      words: `what is filled, with commas between: ${Object.keys(FILLED).join(', ')}`,
      read: kinds,
    },
    { flag: '--fill-below <MM>', words: 'fill what has no larger mouth, mm', read: millimetres },
    { flag: '--keep-face <ID...>', words: 'faces that stay with all their holes: #123, or FILE#123' },
    {
      flag: '--under <AMOUNT>',
      words: 'find choices by which it comes to no more: "300 faces", "5000 triangles", "2 MB"',
      read: budget,
    },
    { flag: '--one-part', words: 'one part in place of an assembly of few parts' },
  ],
  choices: ({ out, smallerThan, fill, fillBelow, keepFace = [], onePart, outside, under }, _, root) => {
    return {
      ...outChoices(out, root),
      ...(smallerThan !== undefined && { smallerThan }),
      ...(fill !== undefined && { fill }),
      ...(fillBelow !== undefined && { fillBelow }),
      ...(keepFace.length > 0 && { keepFaces: keepFace.map(face) }),
      ...(onePart && { form: 'part' as const }),
      ...(outside && { outside }),
      ...(under !== undefined && { budget: under }),
    };
  },
  apply: ({ change }, { out }, files) => applyOutside(change, out, files.root),
  tell({ preview: { report, whole, found }, change, dryRun }, { out }) {
    const json = { file: out, applied: !dryRun, ...report, found, warnings: change.warnings };
    const lines: string[] = [];
    const { before, after, removed, kept, box, deviation } = report;
    lines.push(
      ...columns(
        (['occurrences', 'distinctParts', 'bodies', 'faces', 'triangles', 'bytes'] as const).map((name) => [
          name === 'distinctParts' ? 'different parts' : name,
          before[name].toLocaleString('en'),
          '->',
          after[name].toLocaleString('en'),
        ]),
        [1, 3],
      ),
    );
    lines.push('');
    const out6 = (numbers: readonly number[]) => numbers.map((value) => value.toFixed(3)).join(' ');
    lines.push(`box      ${out6(box.before)} mm`);
    lines.push(`         ${out6(box.after)} mm`);
    for (const { file, face: id, identical } of kept)
      lines.push(`kept     ${file}#${id}: ${identical ? 'identical' : 'NOT identical'}`);
    lines.push(
      `filled   ${plural(removed.holes, 'hole')}, ${plural(removed.pockets, 'pocket')}, ${plural(removed.voids, 'void')}${removed.slots > 0 ? `, ${plural(removed.slots, 'slot')}` : ''}`,
    );
    if (removed.sharpened.length > 0) {
      const most = Math.max(...removed.sharpened.map(({ off }) => off));
      lines.push(
        `edges    ${plural(removed.sharpened.length, 'component')} with sharp edges instead of rounds and bevels, at most ${most.toFixed(3)} mm off them`,
      );
    }
    if (removed.enveloped.length > 0) lines.push(`envelope ${plural(removed.enveloped.length, 'component')}`);
    if (removed.joined > 0)
      lines.push(`joined   ${plural(removed.joined, 'face')} with others of one surface`);
    for (const { key, depth } of removed.rounded)
      lines.push(`rings    ${key}: teeth or fins ${Number(depth.toFixed(2))} mm deep are plain rings`);
    if (removed.cut.length > 0)
      lines.push(`cut off  ${plural(removed.cut.length, 'component')} where they end inside`);
    lines.push(`outside  lies at most ${deviation.max.toFixed(3)} mm from what is left`);
    for (const { kind, count, examples } of report.leaks)
      lines.push(`tells    ${kind}: ${plural(count, 'place')}, such as “${examples[0] ?? ''}”`);
    for (const { words, made } of found?.steps ?? [])
      if (made)
        lines.push(
          `tried    ${words}: ${made[found!.budget.what].toLocaleString('en')} ${found!.budget.what}`,
        );
    for (const warning of change.warnings) lines.push(`note     ${warning}`);
    lines.push(
      `${dryRun ? 'Would write' : 'Wrote'} ${out}, made lighter than ${whole.root}${dryRun ? ' (not done: dry run)' : ''}.`,
    );
    return { json, lines };
  },
};

const UNITS: readonly [pattern: RegExp, what: Budget['what'], size: number][] = [
  [/^(?:faces?)$/i, 'faces', 1],
  [/^(?:triangles?)$/i, 'triangles', 1],
  [/^(?:b|bytes?)$/i, 'bytes', 1],
  [/^kb$/i, 'bytes', 1e3],
  [/^mb$/i, 'bytes', 1e6],
];

/** `300 faces`, `2MB`. */
function budget(text: string): Budget {
  const [, number = '', unit = ''] = /^\s*([\d.]+)\s*([a-z]+)\s*$/i.exec(text) ?? [];
  const found = UNITS.find(([pattern]) => pattern.test(unit));
  const most = Number(number) * (found?.[2] ?? 0);
  if (!found || !(most > 0))
    throw new Refusal('It is an amount, such as "300 faces", "5000 triangles" or "2 MB".');
  return { what: found[1], most };
}

function kinds(text: string): FillKind[] {
  return text.split(',').flatMap((word) => {
    const found = FILLED[word.trim()];
    if (!found)
      throw new Refusal(`It is one of ${Object.keys(FILLED).join(', ')}, or several with commas between.`);
    return found;
  });
}
