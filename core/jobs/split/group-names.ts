import { groupBy } from '#core/multimap';

/**
 * Names for components of several bodies that have names of their own: what these have in common, so that no body goes by the
 * name of another. `head screw` for `head screw 1` and `head screw 2`; `eye` for `lower eye` and `upper eye`; both names where
 * they have nothing in common. Groups that would be called alike are told apart by letters (`rib L` and
 * `rib R`, `saddle 280` and `saddle 840`), else by numbers.
 * @param groups the names of the bodies of each group
 */
export function groupNames(groups: readonly (readonly string[])[]): string[] {
  const names = groups.map(sharedName);
  const alike = groupBy(names.keys(), (n) => names[n]!.toLowerCase());
  for (const [name, members] of alike) {
    if (members.length === 1 || name === '') continue;
    const longer = members.map((n) => sharedLetters(groups[n]!));
    const isDistinct = new Set(longer.map((own) => own.toLowerCase())).size === members.length;
    for (const [at, n] of members.entries()) {
      const isOne = new Set(groups[n]).size === 1;
      if (isOne) names[n] = groups[n]![0]!;
      else names[n] = isDistinct ? longer[at]! : `${names[n]} ${at + 1}`;
    }
  }
  return names;
}

/** The words with which all names begin, else those with which all end, else the names themselves. */
function sharedName(names: readonly string[]): string {
  const different = [...new Set(names)];
  if (different.length === 1) return different[0]!;
  const words = different.map(wordsOf);
  const first = leadingWords(different);
  if (first !== '') return first;
  const last = leading(words.map((own) => [...own].reverse())).reverse();
  if (last.length > 0) return last.join(' ');
  const named = different.filter((name) => name !== '');
  return named.length <= 2 ? named.join(', ') : `${named[0]} and ${named.length - 1} more`;
}

/** The words with which all names begin. */
export function leadingWords(names: readonly string[]): string {
  return leading(names.map(wordsOf)).join(' ');
}

function wordsOf(name: string): string[] {
  return name.split(/\s+/).filter((word) => word !== '');
}

function leading(words: readonly (readonly string[])[]): string[] {
  let shared = 0;
  while (words.every((own) => own[shared] !== undefined && own[shared] === words[0]![shared])) shared++;
  return words[0]!.slice(0, shared);
}

/** The letters with which all names begin and end: `rib L`, `saddle 280`. A number is not cut in the middle. */
function sharedLetters(names: readonly string[]): string {
  const shortest = Math.min(...names.map((name) => name.length));
  const first = names[0]!;
  const count = (most: number, at: (name: string, n: number) => string | undefined) => {
    let shared = 0;
    while (shared < most && names.every((name) => at(name, shared) === at(first, shared))) shared++;
    return shared;
  };
  const begin = count(shortest, (name, n) => name[n]);
  const end = count(shortest - begin, (name, n) => name[name.length - 1 - n]);
  const isCut = (at: (name: string) => string | undefined) => names.some((name) => /\d/.test(at(name) ?? ''));
  let head = first.slice(0, begin);
  let tail = end === 0 ? '' : first.slice(-end);
  if (isCut((name) => name[begin])) head = head.replace(/\d+$/, '');
  if (isCut((name) => name[name.length - 1 - end])) tail = tail.replace(/^\d+/, '');
  const trimmed = (text: string) => text.replace(/^[\s._-]+|[\s._-]+$/g, '');
  return [head, tail].map(trimmed).filter(Boolean).join(' ');
}
