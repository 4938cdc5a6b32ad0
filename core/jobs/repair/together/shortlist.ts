import { baseName } from '#core/files/links/paths';
import { append } from '#core/multimap';
import { ownProducts } from '#core/project/scan/content';
import type { ScannedFile } from '#core/project/scan/project';
import type { Steps } from '#core/steps';
import type { ProjectSigns } from './signs';
import type { Slot } from './slots';
import type { NameWords } from './words-of-files';

/*
 * Which files are looked at for a slot. In a small project all are; in a large one those that share an id, a name, a volume, a word
 * or some letters with what is missed, and what is left over.
 */

/** So many files are all looked at. */
const SMALL = 150;
const MOST_ALIKE = 50;
const MOST_LEFT_OVER = 60;

/** What more files than this, or this part of all, have in common is no sign. */
const COMMON = 200;
const COMMON_OF_ALL = 0.1;

const TELLING = 8;
const LETTERS = 0.3;
const RESTS = 64;

export class Shortlist {
  private readonly byWord = new Map<string, ScannedFile[]>();
  private readonly byLetters = new Map<string, ScannedFile[]>();
  /** By the names of bodies, for what others came out of. */
  private readonly byBody = new Map<string, ScannedFile[]>();
  private readonly byPath: ReadonlyMap<string, ScannedFile>;

  private constructor(
    private readonly signs: ProjectSigns,
    private readonly names: NameWords,
  ) {
    this.byPath = new Map(signs.shaped.map((file) => [file.path, file]));
  }

  static *steps(signs: ProjectSigns, names: NameWords): Steps<Shortlist> {
    const list = new Shortlist(signs, names);
    if (signs.shaped.length <= SMALL) return list;
    for (const [n, file] of signs.shaped.entries()) {
      if (n % RESTS === 0) yield;
      const { words, plain } = names.partsOf(baseName(file.path));
      for (const word of new Set(words)) append(list.byWord, word, file);
      for (const letters of lettersOf(plain)) append(list.byLetters, letters, file);
      const bodies = ownProducts(file.scan).flatMap((product) => product.bodies.map((body) => body.name));
      for (const body of new Set(bodies)) if (body !== '') append(list.byBody, body, file);
    }
    return list;
  }

  /** The files to look at for a slot. @param others that are to be looked at in any case */
  for(slot: Slot, others: Iterable<string>): Set<ScannedFile> {
    const { shaped, leftOver } = this.signs;
    if (shaped.length <= SMALL) return new Set(shaped);
    const scores = new Map<ScannedFile, number>();
    const add = (files: Iterable<ScannedFile | undefined>, score: number) => {
      for (const file of files) if (file) scores.set(file, (scores.get(file) ?? 0) + score);
    };
    const isSign = (files: readonly unknown[]) =>
      files.length <= Math.max(COMMON, shaped.length * COMMON_OF_ALL);
    const at = (paths: readonly string[]) => paths.map((path) => this.byPath.get(path));
    for (const word of slot.words) {
      const carriers = this.signs.carriersOf(word);
      if (isSign(carriers)) add(at(carriers), TELLING);
    }
    const ofTheVolume = this.signs.ofTheVolume(slot);
    if (isSign(ofTheVolume)) add(at(ofTheVolume), TELLING);
    for (const { name } of slot.links[0]!.source?.bodies ?? []) {
      const files = this.byBody.get(name) ?? [];
      if (isSign(files)) add(files, TELLING);
    }
    const { words, plain } = this.names.partsOf(slot.name);
    for (const word of new Set(words)) {
      const files = this.byWord.get(word) ?? [];
      if (isSign(files)) add(files, this.names.weightOf(word));
    }
    for (const letters of lettersOf(plain)) {
      const files = this.byLetters.get(letters) ?? [];
      if (isSign(files)) add(files, LETTERS);
    }
    const best = [...scores].sort(([, a], [, b]) => b - a).slice(0, MOST_ALIKE);
    const chosen = new Set(best.map(([file]) => file));
    if (leftOver.size <= MOST_LEFT_OVER) for (const file of at([...leftOver])) if (file) chosen.add(file);
    for (const file of at([...others])) if (file) chosen.add(file);
    return chosen;
  }
}

/** Three letters in a row, each once. */
function lettersOf(text: string): Set<string> {
  const found = new Set<string>();
  for (let n = 0; n + 3 <= text.length; n++) found.add(text.slice(n, n + 3));
  return found;
}
