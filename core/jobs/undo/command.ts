import type { CommandForm, Outcome } from '#core/command/form';
import type { ChangeSet } from '#core/project/change/change-set';

/** `undo DIR`, `redo DIR`: what was taken back, or made again. */
export const UNDO_FORM: CommandForm<{ change?: string | null }, null> = {
  tell: ({ change, dryRun }) => outcomeOf(change, dryRun),
};

function outcomeOf({ summary, changes }: ChangeSet, dryRun: boolean): Outcome {
  return {
    json: { summary, files: changes.map(({ path }) => path) },
    lines: [`${summary}${dryRun ? ' (not done: dry run)' : ''}.`],
  };
}
