import type { CommandForm } from '#core/command/form';
import { slashed } from '#core/command/out-file';
import { columns } from '#core/command/words';
import type { ByPresetChoices } from './choices';
import type { ByPresetOutline } from './plan';

/** `by-preset DIR FILE... --preset NAME`: what became of each file. */
export const BY_PRESET_FORM: CommandForm<ByPresetChoices, ByPresetOutline> = {
  arguments: '<FILE...>',
  ownFlags: ['files'],
  choices: (_, _context, _root, [files]) => ({ files: [files ?? []].flat().map(slashed) }),
  tell({ preview: { files }, change, dryRun }) {
    const told = files.flatMap(({ file, made, before, after, isMadeAgain }) =>
      made && before && after
        ? [
            [
              file,
              '->',
              made,
              `${before.faces.toLocaleString('en')} -> ${after.faces.toLocaleString('en')} faces`,
              isMadeAgain ? 'made again' : '',
            ],
          ]
        : [],
    );
    return {
      json: { files, applied: !dryRun },
      lines: [
        ...columns(told),
        ...change.warnings.map((warning) => `note   ${warning}`),
        `${change.summary}${dryRun ? ' (not done: dry run)' : ''}.`,
      ],
      hasFindings: files.some(({ made }) => made === null),
    };
  },
};
