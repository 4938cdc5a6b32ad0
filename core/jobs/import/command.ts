import type { CommandForm } from '#core/command/form';
import { plural } from '#core/command/words';
import type { ImportChoices, UnpackChoices, UnpackPreview } from '#core/jobs/import/operation';
import type { ImportOutline } from '#core/jobs/import/plan';

/** `import DIR FROM...`: files, folders, zips and packages come into a folder. */
export const IMPORT_FORM: CommandForm<ImportChoices, ImportOutline> = {
  arguments: '<FROM...>',
  ownFlags: ['from'],
  choices: (_, __, ___, [from]) => ({ from: from as string[] }),
  tell({ preview, dryRun }) {
    const { added, replaced, unchanged, conflicts, problems } = preview;
    return {
      json: { dryRun, ...preview, links: linksAsPromised(preview.links) },
      lines: [
        ...preview.links.broken.map(({ holder, written, reason }) => `${holder} -> ${written}: ${reason}`),
        ...outcomesInWords(conflicts, problems),
        `${dryRun ? 'Would import' : 'Imported'} ${plural(added.length, 'new file')}, ${plural(replaced.length, 'new version')}; ${unchanged} unchanged.`,
      ],
      hasFindings: problems.length > 0,
    };
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
  flags: [{ flag: '--to <DIR>', words: 'where to', isRequired: true }],
  folder: ({ to }) => to,
  choices: (_, __, ___, ____, zip) => ({ package: zip }),
  tell({ preview: { laidOut, conflicts, problems }, hindrance, dryRun }, { to }) {
    const written = laidOut.map(({ path }) => path);
    return {
      json: { written, conflicts, problems },
      lines: [
        ...outcomesInWords(conflicts, problems),
        hindrance ?? `${dryRun ? 'Would unpack' : 'Unpacked'} ${plural(written.length, 'file')} to ${to}.`,
      ],
      hasFindings: problems.length > 0,
    };
  },
};

/** What became of files that were in the way, and what was left out or is not sound. */
function outcomesInWords(
  conflicts: readonly { path: string; outcome: string }[],
  problems: readonly { path: string; problem: string }[],
): string[] {
  return [
    ...conflicts.map(({ path, outcome }) => `${path}: ${outcome}`),
    ...problems.map(({ path, problem }) => `${path}: ${problem}`),
  ];
}
