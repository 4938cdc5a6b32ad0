import type { CommandForm } from '#core/command/form';
import { face, millimetres, percent } from '#core/command/given-values';
import { applyOutside, outChoices } from '#core/command/out-file';
import { plural } from '#core/command/words';
import { type SealFileChoices, WAY_WORDS } from '#core/jobs/seal/choices';
import type { SealOutline } from '#core/jobs/seal/plan';
import { Refusal } from '#core/refusal';

/** `seal FILE --out FILE`: one solid, and the proof that it is one. */
export const SEAL_FORM: CommandForm<SealFileChoices, SealOutline> = {
  ownFlags: [
    'smallerThan',
    'keepFaces',
    'way',
    'within',
    'standOff',
    'folder',
    'pattern',
    'formats',
    'loose',
  ],
  flags: [
    { flag: '--out <FILE>', words: 'the new file', isRequired: true },
    { flag: '--exact', words: 'exactly, or not at all' },
    { flag: '--within <MM>', words: 'of facets that lie no further off', read: millimetres },
    { flag: '--envelope <MM>', words: 'an envelope that stands off no further', read: millimetres },
    {
      flag: '--smaller-than <PERCENT>',
      words: 'leave out components below so many percent of the whole',
      read: percent,
    },
    { flag: '--keep-face <ID...>', words: 'faces that stay with all their holes: #123, or FILE#123' },
    { flag: '--drop-loose', words: 'leave out what touches nothing' },
  ],
  choices: ({ out, exact, within, envelope, smallerThan, keepFace = [], dropLoose }, _, root) => {
    if ([exact, within, envelope].filter((way) => way !== undefined && way !== false).length > 1)
      throw new Refusal('Choose one of --exact, --within and --envelope.');
    return {
      ...outChoices(out, root),
      ...(exact && { way: 'exact' as const }),
      ...(within !== undefined && { way: 'facets' as const, within }),
      ...(envelope !== undefined && { way: 'envelope' as const, standOff: envelope }),
      ...(smallerThan !== undefined && { smallerThan }),
      ...(keepFace.length > 0 && { keepFaces: keepFace.map(face) }),
      ...(dropLoose && { loose: 'drop' as const }),
    };
  },
  apply: ({ change }, { out }, files) => applyOutside(change, out, files.root),
  tell({ preview: { report, reduced }, change, dryRun }, { out }) {
    const json = { file: out, applied: !dryRun, ...report, warnings: change.warnings };
    const lines: string[] = [];
    if (report.within !== null && report.deviation.max > report.within)
      lines.push(
        `outside     lies ${report.deviation.max.toFixed(3)} mm off: more than the ${report.within} mm that were asked for`,
      );
    lines.push(
      `one solid   ${WAY_WORDS[report.way]}, ${report.isValid ? 'valid' : 'NOT valid'}, ${report.isClosed ? 'closed' : 'NOT closed'}, one outer shell, no inner one`,
    );
    lines.push(
      `faces       ${report.before.faces.toLocaleString('en')} -> ${report.after.faces.toLocaleString('en')}`,
    );
    if (report.lighterWithin !== null)
      lines.push(
        `            about 3,000 of them lie within ${report.lighterWithin} mm: --within ${report.lighterWithin}`,
      );
    lines.push(
      `bytes       ${report.before.bytes.toLocaleString('en')} -> ${report.after.bytes.toLocaleString('en')}`,
    );
    lines.push(
      `sections    ${report.sections.map((part) => `${(100 * part).toFixed(2)} %`).join(', ')} filled (x, y, z)`,
    );
    lines.push(`pins        ${report.pins}, hollows filled ${report.hollows}`);
    lines.push(`outside     lies at most ${report.deviation.max.toFixed(3)} mm off`);
    lines.push(`names       ${report.names.length === 0 ? 'none of the original' : report.names.join(', ')}`);
    for (const { file, face: id, identical, off } of report.kept)
      lines.push(
        `kept        ${file}#${id}: ${off !== undefined ? `within ${off.toFixed(4)} mm` : identical ? 'identical' : 'NOT identical'}`,
      );
    for (const { names, volume } of report.loose)
      lines.push(`left out    ${names.join(', ')} (${volume.toFixed(0)} mm³): it touches nothing`);
    for (const warning of change.warnings) lines.push(`note        ${warning}`);
    lines.push(
      `${dryRun ? 'Would write' : 'Wrote'} ${out}: ${plural(reduced.whole.occurrences.length, 'component')} as one solid${dryRun ? ' (not done: dry run)' : ''}.`,
    );
    return { json, lines };
  },
};
