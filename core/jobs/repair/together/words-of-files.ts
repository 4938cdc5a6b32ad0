import { distance as editDistance } from 'fastest-levenshtein';
import { stemOf } from '#core/files/links/paths';
import type { Steps } from '#core/steps';

/*
 * How alike two file names are, by the words and numbers in them. A word that many files have tells little; what is added at
 * revisions and copies tells nothing.
 */

/** A part of a name between separators, or where letters meet digits or small letters capitals. */
interface Word {
  text: string;
  isNumber: boolean;
  weight: number;
  /** A number, one or two letters, or what is added at revisions: it may come and go. */
  isSlight: boolean;
}

/** What people add when they revise, copy or export a file. */
const NOISE = new Set([
  'rev',
  'revision',
  'copy',
  'v',
  'ver',
  'version',
  'prt',
  'part',
  'asm',
  'final',
  'new',
]);
const NOISE_WEIGHT = 0.15;

/** What may come and go weighs this part of its weight where it is only on one side; any other word that. */
const SLIGHT_EXTRA = 0.2;
const OTHER_EXTRA = 0.75;

/** A word that begins as the other, has the same consonants, or is nearly the same. */
const PREFIX = 0.85;
const NO_VOWELS = 0.8;
const EDITED = 0.9;
const LEAST_EDITED = 0.7;

/** The words of a name without its ending, in lower case and without accents. @example split('GearBox_07.stp') // gear box 7 */
export function splitName(name: string): string[] {
  return stemOf(name)
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .toLowerCase()
    .replace(/ß/g, 'ss')
    .split(/[^\p{L}\p{N}]+|(?<=\p{L})(?=\p{N})|(?<=\p{N})(?=\p{L})/u)
    .filter((word) => word !== '')
    .map((word) => word.replace(/^0+(?=\d)/, ''));
}

/** A name, taken apart. */
export interface NameParts {
  words: readonly string[];
  /** Without its ending, folded, with one blank for each separator. */
  plain: string;
}

export function partsOf(name: string): NameParts {
  return { words: splitName(name), plain: plain(name) };
}

/** So many names are taken apart between rests. */
const RESTS = 256;

/** Knows how common words are in the names of a project. */
export class NameWords {
  private readonly parts = new Map<string, NameParts>();
  private readonly known = new Map<string, Word[]>();
  private readonly counts = new Map<string, number>();
  private count = 0;

  /** @param names of all files, and those that are missed */
  static *steps(names: readonly string[]): Steps<NameWords> {
    const made = new NameWords();
    for (const [n, name] of names.entries()) {
      if (n % RESTS === 0) yield;
      made.count++;
      for (const word of new Set(made.partsOf(name).words))
        made.counts.set(word, (made.counts.get(word) ?? 0) + 1);
    }
    return made;
  }

  partsOf(name: string): NameParts {
    let parts = this.parts.get(name);
    if (!parts) {
      parts = partsOf(name);
      this.parts.set(name, parts);
    }
    return parts;
  }

  /** How much a word tells: the rarer, the more. */
  weightOf(word: string): number {
    return Math.log(1 + this.count / (this.counts.get(word) ?? 1));
  }

  /** From 0 to 1. */
  likeness(asked: string, offered: string): number {
    const byWords = this.byWords(this.wordsOf(asked), this.wordsOf(offered));
    const mixed = 0.75 * byWords + 0.25 * pairsAlike(this.partsOf(asked).plain, this.partsOf(offered).plain);
    return byWords >= 0.8 ? Math.max(byWords, mixed) : mixed;
  }

  private byWords(asked: readonly Word[], offered: readonly Word[]): number {
    const left = [...offered];
    const missed: Word[] = [];
    let alike = 0;
    let whole = 0;
    for (const word of asked) {
      let [best, at] = [0, -1];
      for (const [n, other] of left.entries()) {
        const likeness = wordLikeness(word, other);
        if (likeness > best) [best, at] = [likeness, n];
      }
      if (at < 0) {
        missed.push(word);
        continue;
      }
      const [other] = left.splice(at, 1);
      const weight = Math.max(word.weight, other!.weight);
      alike += weight * best;
      whole += weight;
    }
    // A number instead of another one is another size.
    const isOtherSize = missed.some(({ isNumber }) => isNumber) && left.some(({ isNumber }) => isNumber);
    for (const word of [...missed, ...left]) {
      const extra = isOtherSize && word.isNumber ? 1 : word.isSlight ? SLIGHT_EXTRA : OTHER_EXTRA;
      whole += word.weight * extra;
    }
    return whole === 0 ? 0 : alike / whole;
  }

  private wordsOf(name: string): Word[] {
    let words = this.known.get(name);
    if (!words) {
      words = this.partsOf(name).words.map((text) => {
        const isNumber = /^\p{N}/u.test(text);
        const isNoise = NOISE.has(text);
        return {
          text,
          isNumber,
          weight: this.weightOf(text) * (isNoise ? NOISE_WEIGHT : 1),
          isSlight: isNumber || isNoise || text.length < 3,
        };
      });
      this.known.set(name, words);
    }
    return words;
  }
}

function wordLikeness(a: Word, b: Word): number {
  if (a.text === b.text) return 1;
  if (a.isNumber || b.isNumber) return 0;
  const [short, long] = a.text.length < b.text.length ? [a.text, b.text] : [b.text, a.text];
  if (short.length < 3) return 0;
  if (long.startsWith(short)) return PREFIX;
  const consonants = (text: string) => text[0] + text.slice(1).replace(/[aeiou]/g, '');
  if (consonants(short).length >= 3 && consonants(short) === consonants(long)) return NO_VOWELS;
  const same = 1 - editDistance(short, long) / long.length;
  return same >= LEAST_EDITED ? same * EDITED : 0;
}

/** A name without its ending, folded, with one blank for each separator. */
function plain(name: string): string {
  return stemOf(name)
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();
}

/** Part of the pairs of neighbouring letters that two texts share (Dice's coefficient). */
function pairsAlike(a: string, b: string): number {
  if (a.length < 2 || b.length < 2) return a === b ? 1 : 0;
  const counts = new Map<string, number>();
  for (let n = 0; n + 2 <= a.length; n++) {
    const pair = a.slice(n, n + 2);
    counts.set(pair, (counts.get(pair) ?? 0) + 1);
  }
  let shared = 0;
  for (let n = 0; n + 2 <= b.length; n++) {
    const pair = b.slice(n, n + 2);
    const left = counts.get(pair) ?? 0;
    if (left === 0) continue;
    counts.set(pair, left - 1);
    shared++;
  }
  return (2 * shared) / (a.length + b.length - 2);
}
