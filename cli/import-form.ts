import type { ImportChoices, UnpackChoices, UnpackPreview } from '#core/jobs/import/operation';
import type { ImportOutline } from '#core/jobs/import/plan';
import { FINDINGS, FINE } from './exit';
import type { CommandForm } from './operation-command';
import { plural, printJson, printLine } from './output';

/** `import DIR FROM...`: files, folders, zips and packages come into a folder. */
export const IMPORT_FORM: CommandForm<ImportChoices, ImportOutline> = {
  arguments: '<FROM...>',
  ownFlags: ['from'],
  choices: (_, __, ___, [from]) => ({ from: from as string[] }),
  tell({ preview, dryRun, json }) {
    const { added, replaced, unchanged, conflicts, problems } = preview;
    if (json) printJson({ dryRun, ...preview, links: linksAsPromised(preview.links) });
    else {
      for (const { holder, written, reason } of preview.links.broken)
        printLine(`${holder} -> ${written}: ${reason}`);
      printOutcomes(conflicts, problems);
      printLine(
        `${dryRun ? 'Would import' : 'Imported'} ${plural(added.length, 'new file')}, ${plural(replaced.length, 'new version')}; ${unchanged} unchanged.`,
      );
    }
    return problems.length > 0 ? FINDINGS : FINE;
  },
};

/** Links as `scan` tells of them: the file that holds one is where it comes from. */
function linksAsPromised({ broken, mended, behind }: ImportOutline['links']) {
  return {
    broken: broken.map(({ holder, ...link }) => ({ from: holder, ...link })),
    mended: mended.map(({ holder, ...link }) => ({ from: holder, ...link })),
    behind,
  };
}

/** `unpack ZIP --to DIR`: what was laid out, and what is wrong with the package. */
export const UNPACK_FORM: CommandForm<UnpackChoices, UnpackPreview> = {
  argument: '<ZIP>',
  ownFlags: ['package'],
  tellsHindrance: true,
  options: (command) => command.requiredOption('--to <DIR>', 'where to'),
  folder: ({ to }) => to,
  choices: (_, __, ___, ____, zip) => ({ package: zip }),
  tell({ preview: { laidOut, conflicts, problems }, hindrance, dryRun, json }, { to }) {
    const written = laidOut.map(({ path }) => path);
    if (json) printJson({ written, conflicts, problems });
    else {
      printOutcomes(conflicts, problems);
      printLine(
        hindrance ?? `${dryRun ? 'Would unpack' : 'Unpacked'} ${plural(written.length, 'file')} to ${to}.`,
      );
    }
    return problems.length > 0 ? FINDINGS : FINE;
  },
};

/** What became of files that were in the way, and what was left out or is not sound. */
function printOutcomes(
  conflicts: readonly { path: string; outcome: string }[],
  problems: readonly { path: string; problem: string }[],
): void {
  for (const { path, outcome } of conflicts) printLine(`${path}: ${outcome}`);
  for (const { path, problem } of problems) printLine(`${path}: ${problem}`);
}
