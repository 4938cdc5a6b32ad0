import type { NameParts } from './words-of-files';

/*
 * Whoever renames many files does it by a rule: a prefix for the project, a suffix for the revision, all cut to so many letters.
 * A way of renaming that would explain several of the missed names at once is likely the rule.
 */

/** A common part shorter than this tells nothing. */
const SHORTEST = 3;

/**
 * The way in which one name may have become another; undefined where no rule would explain it. Digits of what was added or taken
 * away count as one, since they run on.
 * @example wayOf(partsOf('lid.stp'), partsOf('HX12-lid.stp')) // '+hx #|'
 */
export function wayOf(asked: NameParts, offered: NameParts): string | undefined {
  const [a, b] = [asked.words, offered.words];
  const [from, to] = [asked.plain, offered.plain];
  if (to.length >= 4 && to.length < from.length && from.startsWith(to)) return `cut ${to.length}`;
  const [shorter, longer] = a.length <= b.length ? [a, b] : [b, a];
  const at = positionIn(longer, shorter);
  if (at !== undefined && shorter.join('').length >= SHORTEST && /\p{L}/u.test(shorter.join(''))) {
    if (shorter.length === longer.length) return undefined;
    const around = [longer.slice(0, at), longer.slice(at + shorter.length)].map(withoutDigits);
    return `${a.length < b.length ? '+' : '-'}${around.join('|')}`;
  }
  return exchanged(a, b);
}

/** One end for another: a prefix for a prefix, a suffix for a suffix. */
function exchanged(a: readonly string[], b: readonly string[]): string | undefined {
  let start = 0;
  while (start < a.length && start < b.length && a[start] === b[start]) start++;
  let end = 0;
  while (end < a.length - start && end < b.length - start && a.at(-1 - end) === b.at(-1 - end)) end++;
  const common = [...a.slice(0, start), ...a.slice(a.length - end)].join('');
  if (start > 0 === end > 0 || common.length < SHORTEST || !/\p{L}/u.test(common)) return undefined;
  const [gone, come] = [a.slice(start, a.length - end), b.slice(start, b.length - end)].map(withoutDigits);
  // A number instead of a number is another size.
  if (/#/.test(gone!) && /#/.test(come!)) return undefined;
  return `${start > 0 ? 'end' : 'begin'} ${gone}>${come}`;
}

function withoutDigits(words: readonly string[]): string {
  return words.map((word) => word.replace(/^\d+$/, '#')).join(' ');
}

/** Where a list of words begins in another one. */
function positionIn(longer: readonly string[], shorter: readonly string[]): number | undefined {
  for (let at = 0; at + shorter.length <= longer.length; at++)
    if (shorter.every((word, n) => longer[at + n] === word)) return at;
  return undefined;
}
