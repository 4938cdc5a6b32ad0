import type { MadeBefore } from '#core/project/scan/made-before';
import { plural } from '../format';

/** What came out of a file before, in a sentence. */
export function madeBeforeInWords({ files, behind }: MadeBefore): string {
  const [only] = files;
  const came =
    files.length === 1 ? `${only} came out of it` : `${plural(files.length, 'file')} came out of it`;
  if (behind === 0) return `${came}.`;
  return files.length === 1
    ? `${came}, and is behind its newest version.`
    : `${came}; ${behind === 1 ? 'one of them is' : `${behind} of them are`} behind its newest version.`;
}
