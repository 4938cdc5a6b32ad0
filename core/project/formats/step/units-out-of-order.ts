import type { Part21File } from '#core/files/part21/file';
import { isInOrder } from '#core/files/part21/record-order';

/** Units that we once wrote with their records out of order; other files are not ours to mend. */
export function unitsOutOfOrder(file: Part21File): number[] {
  if (file.header.preprocessor !== 'Stone Tray') return [];
  return file.complexIdsWith('NAMED_UNIT').filter((id) => !isInOrder(file, id));
}
