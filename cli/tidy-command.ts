import type { Command } from 'commander';
import { plural } from '#core/command/words';
import { Refusal } from '#core/refusal';
import { FINE } from './exit';
import { printJson, printLine } from './output';

const DAY = 24 * 60 * 60 * 1000;

/** `tidy DIR` lets go of contents that only old changes need. It is about the records of a folder, which projects have not. */
export function addTidyCommand(program: Command, onDone: (code: number) => void): void {
  program
    .command('tidy')
    .description('let go of what only old changes need to be taken back')
    .argument('<DIR>')
    .option('--older-than <DAYS>', 'changes older than this cannot be taken back then', days, 90)
    .option('--json', 'print JSON for programs')
    .action(async (folder: string, { olderThan, json }: { olderThan: number; json?: boolean }) => {
      const { FolderFileSet } = await import('#core/project/change/folder/folder');
      const files = await FolderFileSet.openToChange(folder);
      const dropped = await files.tidy(new Date(Date.now() - olderThan * DAY));
      if (json) printJson(dropped);
      else
        printLine(
          dropped.contents === 0
            ? 'There is nothing to let go of.'
            : `Let go of ${plural(dropped.contents, 'content')}, ${plural(dropped.bytes, 'byte')}: changes of more than ${plural(olderThan, 'day')} ago can no longer be taken back.`,
        );
      onDone(FINE);
    });
}

/** @throws Refusal for anything but a number of days */
function days(text: string): number {
  const value = Number(text.replace(/d$/, ''));
  if (!Number.isFinite(value) || value < 0) throw new Refusal(`${text} is no number of days.`);
  return value;
}
