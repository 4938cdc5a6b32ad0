import { FolderFileSet } from '#core/project/change/folder/folder';
import { FINE } from './exit';
import { plural, printJson, printLine } from './output';

const DAY = 24 * 60 * 60 * 1000;

/** Lets go of contents that only old changes need. */
export async function tidyCommand(
  folder: string,
  { olderThan, json }: { olderThan: number; json?: boolean },
): Promise<number> {
  const files = await FolderFileSet.openToChange(folder);
  const dropped = await files.tidy(new Date(Date.now() - olderThan * DAY));
  if (json) printJson(dropped);
  else
    printLine(
      dropped.contents === 0
        ? 'There is nothing to let go of.'
        : `Let go of ${plural(dropped.contents, 'content')}, ${plural(dropped.bytes, 'byte')}: changes of more than ${plural(olderThan, 'day')} ago can no longer be taken back.`,
    );
  return FINE;
}
