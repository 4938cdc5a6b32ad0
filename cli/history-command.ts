import { FINE } from './exit';
import { printJson, printLine, printTable } from './output';
import { openToRead } from './reading';

/** Lists what was done in a folder, the latest last. */
export async function historyCommand(folder: string, options: { json?: boolean }): Promise<number> {
  const history = await (await openToRead(folder)).history();
  if (options.json) printJson({ changes: history });
  else if (history.length === 0) printLine('Nothing has been changed in this folder.');
  else printTable(history.map(({ id, time, summary }) => [id, time.slice(0, 16).replace('T', ' '), summary]));
  return FINE;
}
