import { pathProblem } from '#core/files/links/paths';
import { newFileName } from './endings';

/** Longest file name, without folder and ending, that is made of a name. */
export const LONGEST_STEM = 80;

/** Makes text fit to be a file name everywhere, without its ending; '' when nothing is left of it. */
export function fittingStem(name: string): string {
  const cleaned = name
    .normalize('NFC')
    .replace(/[<>:"|?*\\/\u0000-\u001f\u007f]+/g, '-')
    .replace(/[\s,]+/g, '-')
    .replace(/^[-. ]+|[-. ]+$/g, '');
  let stem = [...cleaned].slice(0, LONGEST_STEM).join('');
  while (Buffer.byteLength(stem) > 200) stem = [...stem].slice(0, -1).join('');
  if (stem === '') return '';
  return pathProblem(newFileName(stem), true) ? `part-${stem}` : stem;
}
