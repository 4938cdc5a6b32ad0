import { foldPath, freePath, joinPath } from '#core/files/links/paths';
import type { Planning } from '#core/planning';
import { type ChangeSet, newContent } from '#core/project/change/change-set';
import type { FileEntry } from '#core/project/change/file-set';
import { rewriteLinks } from '#core/project/formats/formats';
import type { Retarget } from '#core/project/formats/link-format';
import type { OnConflict } from './on-conflict';
import type { OpenedPackage } from './open-package';

/** A package that is laid out, and how. */
export interface UnpackToPlan {
  opened: OpenedPackage;
  /** Folder inside the file set; '' for its top. */
  into: string;
  onConflict: OnConflict;
}

export interface UnpackPlan {
  change: ChangeSet;
  /** Paths that get a file of the package, and whether it takes the place of another. */
  laidOut: { path: string; replaces: boolean }[];
  /** How many are there already as they are. */
  unchanged: number;
  /** Files that were already there with other content, and what becomes of them. */
  conflicts: { path: string; outcome: string }[];
}

/**
 * Plans to lay a package's files out in a folder or project. Files that are there already with the same content are
 * left alone. With `both`, the newcomer gets a free name and the links of the package follow it; so does every file that
 * needs it, all the way up, since what is there goes on using what was there.
 */
export async function planUnpack(
  { draft }: Pick<Planning, 'draft'>,
  { opened, into, onConflict }: UnpackToPlan,
): Promise<UnpackPlan> {
  const there = new Map((await draft.list()).map((entry) => [foldPath(entry.path), entry]));
  const existingAt = (path: string) => there.get(foldPath(joinPath(into, path)));
  const isSame = (path: string) => existingAt(path)?.sha256 === opened.project.files.get(path)!.sha256;
  const paths = [...opened.payload.keys()];
  const conflicts: UnpackPlan['conflicts'] = [];

  // 1. Names, before contents: links have to follow every file that is named anew.
  const different = paths.filter((path) => existingAt(path) && !isSame(path));
  const names = new Map(paths.map((path) => [path, joinPath(into, path)]));
  if (onConflict === 'both') {
    const taken = new Set([...there.keys(), ...[...names.values()].map(foldPath)]);
    for (const path of withUsers(opened, different, existingAt)) {
      const name = freePath(joinPath(into, path), (candidate) => taken.has(foldPath(candidate)));
      taken.add(foldPath(name));
      names.set(path, name);
      conflicts.push({
        path: existingAt(path)!.path,
        outcome: isSame(path)
          ? `kept; a second one that uses the package's files is named ${name}`
          : `kept; the package's file is named ${name}`,
      });
    }
  } else {
    for (const path of different)
      conflicts.push({
        path: existingAt(path)!.path,
        outcome:
          onConflict === 'replace'
            ? "replaced by the package's file"
            : "kept; the package's file is left out",
      });
  }

  // 2. Contents, of everything that is not there already.
  const laidOut: UnpackPlan['laidOut'] = [];
  let unchanged = 0;
  const links: { holder: string; rewritten: string; retarget: Retarget }[] = [];
  for (const [path, content] of opened.payload) {
    const name = names.get(path)!;
    const replaced = there.get(foldPath(name));
    if (replaced && isSame(path)) unchanged++;
    if (replaced && (onConflict !== 'replace' || isSame(path))) continue;
    const retargets = (opened.project.uses.get(path) ?? []).flatMap(({ kind, written, to }) =>
      to === null || names.get(to) === joinPath(into, to) ? [] : [{ kind, written, to: names.get(to)! }],
    );
    const renamed = retargets.length === 0 ? null : rewriteLinks(await opened.read(content), name, retargets);
    const holder = replaced?.path ?? name;
    draft.put(holder, renamed ? newContent(renamed.bytes) : content);
    laidOut.push({ path: holder, replaces: replaced !== undefined });
    for (const [n, retarget] of retargets.entries())
      links.push({ holder, rewritten: renamed!.rewritten[n]!, retarget });
  }
  for (const { holder, rewritten, retarget } of links)
    draft.linked({ holder, kind: retarget.kind, written: rewritten }, retarget.to, retarget.written);
  return { change: await draft.finish(`Unpacked ${opened.name}`), laidOut, unchanged, conflicts };
}

/** Some files of a package and, of those that are there already, all that need one of them, directly or through others. */
function withUsers(
  { project }: OpenedPackage,
  paths: readonly string[],
  existingAt: (path: string) => FileEntry | undefined,
): Set<string> {
  const all = new Set(paths);
  for (const path of all)
    for (const { holder } of project.usedBy.get(path) ?? []) if (existingAt(holder)) all.add(holder);
  return all;
}
