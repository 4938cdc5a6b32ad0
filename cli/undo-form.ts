import { FINE } from './exit';
import type { CommandForm } from './operation-command';
import { printJson, printLine } from './output';

/** `undo DIR`: what was taken back. */
export const UNDO_FORM: CommandForm = {
  tell({ change, dryRun, json }) {
    if (json) printJson({ summary: change.summary, files: change.changes.map(({ path }) => path) });
    else printLine(`${change.summary}${dryRun ? ' (not done: dry run)' : ''}.`);
    return FINE;
  },
};
