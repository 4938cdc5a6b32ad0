import { type ChangeSet, write } from '#core/change/change-set';
import type { FileEntry } from '#core/change/file-set';
import { extensionOf, folderOf, joinPath, stemOf } from '#core/links/paths';
import { rewriteLinks } from '#core/links/rewrite';
import type { OpenedPackage } from './open-package';

/** What happens to a file of the package when another of the same name is already there. */
export type OnConflict = 'keep' | 'replace' | 'both';

export interface UnpackPlan extends ChangeSet {
  /** Files that were already there with other content, and what becomes of them. */
  conflicts: { path: string; outcome: string }[];
}

/**
 * Plans to lay a package's files out in a folder or project. Files that are there already with the same content are
 * left alone. With `both`, the newcomer gets a free name and the links of the package follow it; so does every file that
 * needs it, all the way up, since what is there goes on using what was there.
 * @param into folder inside the file set; '' for its top
 */
export function planUnpack(
  opened: OpenedPackage,
  present: readonly FileEntry[],
  into: string,
  onConflict: OnConflict,
): UnpackPlan {
  const there = new Map(present.map((entry) => [entry.path.toLowerCase(), entry]));
  const existingAt = (path: string) => there.get(joinPath(into, path).toLowerCase());
  const isSame = (path: string) => existingAt(path)?.sha256 === opened.project.files.get(path)!.sha256;
  const paths = [...opened.payload.keys()];
  const plan: UnpackPlan = {
    summary: `Unpacked ${opened.name}`,
    changes: [],
    rewires: [],
    warnings: [],
    conflicts: [],
  };

  // 1. Names, before contents: links have to follow every file that is named anew.
  const different = paths.filter((path) => existingAt(path) && !isSame(path));
  const names = new Map(paths.map((path) => [path, joinPath(into, path)]));
  if (onConflict === 'both') {
    const taken = new Set([...there.keys(), ...[...names.values()].map((name) => name.toLowerCase())]);
    for (const path of withUsers(opened, different, existingAt)) {
      const name = freeName(joinPath(into, path), taken);
      names.set(path, name);
      plan.conflicts.push({
        path: existingAt(path)!.path,
        outcome: isSame(path)
          ? `kept; a second one that uses the package's files is named ${name}`
          : `kept; the package's file is named ${name}`,
      });
    }
  } else {
    for (const path of different)
      plan.conflicts.push({
        path: existingAt(path)!.path,
        outcome:
          onConflict === 'replace'
            ? "replaced by the package's file"
            : "kept; the package's file is left out",
      });
  }

  // 2. Contents, of everything that is not there already.
  for (const [path, content] of opened.payload) {
    const name = names.get(path)!;
    const replaced = there.get(name.toLowerCase());
    if (replaced && (onConflict !== 'replace' || isSame(path))) continue;
    const retargets = (opened.project.uses.get(path) ?? []).flatMap(({ kind, written, to }) =>
      to === null || names.get(to) === joinPath(into, to) ? [] : [{ kind, written, to: names.get(to)! }],
    );
    const { bytes, rewritten } =
      retargets.length === 0 ? { bytes: content, rewritten: [] } : rewriteLinks(content, name, retargets);
    retargets.forEach(({ written, to }, n) =>
      plan.rewires.push({ holder: name, written, rewritten: rewritten[n]!, to, was: null }),
    );
    plan.changes.push(write(replaced?.path ?? name, replaced?.sha256 ?? null, bytes));
  }
  return plan;
}

/** Some files of a package and, of those that are there already, all that need one of them, directly or through others. */
function withUsers(
  { project }: OpenedPackage,
  paths: readonly string[],
  existingAt: (path: string) => FileEntry | undefined,
): Set<string> {
  const all = new Set(paths);
  for (const path of all)
    for (const { from } of project.usedBy.get(path) ?? []) if (existingAt(from)) all.add(from);
  return all;
}

/** The path with a number behind its name, the first that is not taken; taken from then on. */
function freeName(path: string, taken: Set<string>): string {
  const extension = extensionOf(path) ? `.${path.split('.').at(-1)}` : '';
  for (let n = 2; ; n++) {
    const name = joinPath(folderOf(path), `${stemOf(path)} (${n})${extension}`);
    if (taken.has(name.toLowerCase())) continue;
    taken.add(name.toLowerCase());
    return name;
  }
}
