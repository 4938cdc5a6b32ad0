import { groupBy } from '#core/multimap';
import { madeBy } from '#core/product/source/memory';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { MANIFEST_NAME, type MadeForOutside, OUTSIDE } from '#core/project/formats/manifest';
import type { Project } from './project';

/** What an operation has made of a file before. */
export interface MadeBefore {
  /** Its name. */
  operation: string;
  /** The file that it was made of. */
  source: string;
  /** The files that came out, by their paths. */
  files: string[];
  /** The one to look at first: the assembly of them, else the first. */
  opens: string;
  /** How many of them were made of an older version. */
  behind: number;
}

/**
 * What came out of a file before, by the operation: as its files say themselves, and as the manifest does of files for strangers.
 * @param outside entries of the manifest
 */
export function madeBefore(
  project: Project,
  path: string,
  outside: readonly MadeForOutside[] = [],
): MadeBefore[] {
  const ties = (project.usedBy.get(path) ?? []).filter(
    // What a whole places is no source of its own: its lite model is not one of each screw.
    ({ source, holder }) => source && source.relation !== OUTSIDE && holder !== MANIFEST_NAME,
  );
  const made = [...groupBy(ties, ({ source }) => madeBy(source!))].map(([operation, links]): MadeBefore => {
    const files = [...new Set(links.map(({ holder }) => holder))].sort();
    const behind = new Set(links.filter(({ state }) => state === 'behind').map(({ holder }) => holder));
    return { operation, source: path, files, opens: assemblyOf(project, files), behind: behind.size };
  });
  const now = project.files.get(path)?.sha256;
  for (const { file, operation, sources } of outside) {
    const [first] = sources;
    if (first?.path !== path || !project.files.has(file)) continue;
    const isBehind = Number(first.sha256 !== now);
    const known = made.find((entry) => entry.operation === operation);
    if (!known) made.push({ operation, source: path, files: [file], opens: file, behind: isBehind });
    else {
      known.files.push(file);
      known.behind += isBehind;
    }
  }
  return made;
}

/** The one of some files that places others of them, or the one assembly that places most; else the first. */
function assemblyOf(project: Project, files: readonly string[]): string {
  const counts = new Map<string, number>();
  for (const file of files)
    for (const { holder, kind } of project.usedBy.get(file) ?? [])
      if (LINK_KINDS[kind].places) counts.set(holder, (counts.get(holder) ?? 0) + 1);
  const [most] = [...counts].sort(([a, x], [b, y]) => y - x || (a < b ? -1 : 1));
  return most && most[1] > files.length / 2 ? most[0] : files[0]!;
}
