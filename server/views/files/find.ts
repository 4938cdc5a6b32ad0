import { baseName, folderOf } from '#core/files/links/paths';
import { ownProducts } from '#core/project/scan/content';
import type { Project } from '#core/project/scan/project';
import type { Steps } from '#core/steps';

/** A file, or a component by the name that its product has. */
export interface Found {
  what: 'file' | 'component';
  name: string;
  /** The file that it is, or is in. */
  path: string;
  /** Where it is, in words. */
  where: string;
}

/** So many of each are shown; who looks for more types more. */
const MOST = 12;

/** So many files between rests. */
const RESTS = 128;

/** Better first: what begins with it, then what has a word that does, then what holds it. */
function rankOf(name: string, first: string): number {
  const at = name.toLowerCase().indexOf(first);
  if (at === 0) return 0;
  return at > 0 && /[^a-z0-9]/i.test(name[at - 1]!) ? 1 : 2;
}

/**
 * Files and components in whose names all words stand that were typed. Linear in files and products.
 * @param typed without words nothing is found
 */
export function* findSteps(project: Project, typed: string): Steps<Found[]> {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  const fits = (...texts: string[]) =>
    words.every((word) => texts.some((text) => text.toLowerCase().includes(word)));
  const files: Found[] = [];
  const components: Found[] = [];
  let count = 0;
  for (const { path, scan } of project.files.values()) {
    if (count++ % RESTS === 0) yield;
    if (fits(path))
      files.push({ what: 'file', name: baseName(path), path, where: folderOf(path) || 'the top folder' });
    for (const { name, id } of ownProducts(scan))
      if (fits(name, id)) {
        const where = id === name || id === '' ? path : `${id}, ${path}`;
        components.push({ what: 'component', name: name || id, path, where });
      }
  }
  const best = (found: Found[]) =>
    found
      .map((one) => ({ one, rank: rankOf(one.name, words[0]!) }))
      .sort(
        (a, b) =>
          a.rank - b.rank || a.one.name.length - b.one.name.length || (a.one.name < b.one.name ? -1 : 1),
      )
      .slice(0, MOST)
      .map(({ one }) => one);
  return [...best(files), ...best(components)];
}
