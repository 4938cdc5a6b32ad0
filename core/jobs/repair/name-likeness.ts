import { distance as editDistance } from 'fastest-levenshtein';
import { stemOf } from '#core/files/links/paths';

/** How alike two file names are, from 0 to 1, and the difference in words. */
export interface NameLikeness {
  score: number;
  words: string;
}

/** Tails that people add when they revise, copy or number a file. */
const TAIL =
  /[\s._-]*(?:\(?copy(?:[\s._-]*\d+)?\)?|rev(?:ision)?[\s._-]*[a-z0-9]{1,3}|ver(?:sion)?[\s._-]*\d+|v\d+|\(\d+\)|[\s._-]\d{1,3}|final|new|old|backup)$/;

/** Compares names without extension: equal, equal but for case, separators or a revision tail, or a few edits apart. */
export function nameLikeness(a: string, b: string): NameLikeness {
  const [first, second] = [stemOf(a), stemOf(b)];
  if (first === second) return { score: 1, words: 'Same file name' };
  const [foldedA, foldedB] = [first.normalize('NFC').toLowerCase(), second.normalize('NFC').toLowerCase()];
  if (foldedA === foldedB) return { score: 0.98, words: 'Name differs in upper and lower case only' };
  const [plainA, plainB] = [separated(foldedA), separated(foldedB)];
  if (plainA === plainB) return { score: 0.95, words: 'Name differs in separators only' };
  const [bareA, bareB] = [withoutTails(foldedA), withoutTails(foldedB)];
  if (bareA.stem !== '' && separated(bareA.stem) === separated(bareB.stem)) {
    if (bareA.tail !== '' && bareB.tail !== '')
      return { score: 0.6, words: `Same name with ${bareB.tail} instead of ${bareA.tail}` };
    return {
      score: 0.85,
      words: bareB.tail ? `Same name with ${bareB.tail} added` : `Same name without ${bareA.tail}`,
    };
  }
  const prefix = addedPrefix(plainA, plainB) ?? addedPrefix(plainB, plainA);
  if (prefix !== undefined)
    return {
      score: 0.8,
      words: `Same name ${addedPrefix(plainA, plainB) === undefined ? 'without' : 'with'} ${prefix} before it`,
    };
  const edits = editDistance(plainA, plainB);
  const longest = Math.max(plainA.length, plainB.length);
  const score = longest === 0 ? 0 : Math.max(0, 1 - edits / longest);
  // A number that differs names another size or variant, however alike the rest is.
  const numbersDiffer = (plainA.match(/\d+/g) ?? []).join() !== (plainB.match(/\d+/g) ?? []).join();
  const damped = score * (numbersDiffer ? 0.6 : 0.85);
  return {
    score: damped,
    words: edits <= 3 ? `Name is ${edits} ${edits === 1 ? 'letter' : 'letters'} apart` : 'Name is similar',
  };
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
