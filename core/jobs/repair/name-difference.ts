import { distance as editDistance } from 'fastest-levenshtein';
import { stemOf } from '#core/files/links/paths';

/** Tails that people add when they revise, copy or number a file. */
const TAIL =
  /[\s._-]*(?:\(?copy(?:[\s._-]*\d+)?\)?|rev(?:ision)?[\s._-]*[a-z0-9]{1,3}|ver(?:sion)?[\s._-]*\d+|v\d+|\(\d+\)|[\s._-]\d{1,3}|final|new|old|backup)$/;

/**
 * What tells two file names apart, without their endings, in words.
 * @example nameDifference('lid.stp', 'lid_rev-b.stp') // 'Same name with _rev-b added'
 */
export function nameDifference(asked: string, offered: string): string {
  const [first, second] = [stemOf(asked), stemOf(offered)];
  if (first === second) return 'Same file name';
  const [foldedA, foldedB] = [first.normalize('NFC').toLowerCase(), second.normalize('NFC').toLowerCase()];
  if (foldedA === foldedB) return 'Name differs in upper and lower case only';
  const [plainA, plainB] = [separated(foldedA), separated(foldedB)];
  if (plainA === plainB) return 'Name differs in separators only';
  const [bareA, bareB] = [withoutTails(foldedA), withoutTails(foldedB)];
  if (bareA.stem !== '' && separated(bareA.stem) === separated(bareB.stem)) {
    if (bareA.tail !== '' && bareB.tail !== '')
      return `Same name with ${bareB.tail} instead of ${bareA.tail}`;
    return bareB.tail ? `Same name with ${bareB.tail} added` : `Same name without ${bareA.tail}`;
  }
  const [added, gone] = [addedPrefix(plainA, plainB), addedPrefix(plainB, plainA)];
  if (added !== undefined) return `Same name with ${added} before it`;
  if (gone !== undefined) return `Same name without ${gone} before it`;
  const edits = editDistance(plainA, plainB);
  return edits <= 3 ? `Name is ${edits} ${edits === 1 ? 'letter' : 'letters'} apart` : 'Name is similar';
}

/** A short word or a number that stands before the same name: who released it, or for which project. */
function addedPrefix(name: string, longer: string): string | undefined {
  if (!longer.endsWith(` ${name}`)) return undefined;
  const prefix = longer.slice(0, -name.length - 1);
  return /^(\w{1,3}|\d+)$/.test(prefix) ? prefix : undefined;
}

function separated(name: string): string {
  return name.replace(/[\s._-]+/g, ' ').trim();
}

function withoutTails(name: string): { stem: string; tail: string } {
  let stem = name;
  for (let n = 0; n < 3; n++) {
    const shorter = stem.replace(TAIL, '');
    if (shorter === stem || shorter === '') break;
    stem = shorter;
  }
  return { stem, tail: name.slice(stem.length).trim() };
}
