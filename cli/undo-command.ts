import { FolderFileSet } from '#core/change/folder';
import { FINE, UsageError } from './exit';
import { printJson, printLine } from './output';

/** Takes the latest change in a folder back. */
export async function undoCommand(folder: string, options: { json?: boolean }): Promise<number> {
  const files = await FolderFileSet.open(folder);
  const plan = await files.planUndo();
  if (!plan) throw new UsageError('Nothing has been changed in this folder.');
  await files.apply(plan);
  if (options.json) printJson({ summary: plan.summary, files: plan.changes.map(({ path }) => path) });
  else printLine(`${plan.summary}.`);
  return FINE;
}
