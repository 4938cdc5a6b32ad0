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
 * left alone. With `both`, the newcomer gets a free name and the links of the package follow it.
 * @param into folder inside the file set; '' for its top
 */
export function planUnpack(
  opened: OpenedPackage,
  present: readonly FileEntry[],
  into: string,
  onConflict: OnConflict,
): UnpackPlan {
  const there = new Map(present.map((entry) => [entry.path.toLowerCase(), entry]));
  const plan: UnpackPlan = {
    summary: `Unpacked ${opened.name}`,
    changes: [],
    rewires: [],
    warnings: [],
    conflicts: [],
  };

  // 1. Names, before contents: links have to follow every file that is named anew.
  const names = new Map<string, string>();
  const taken = new Set(there.keys());
  for (const path of opened.payload.keys()) {
    let target = joinPath(into, path);
    const existing = there.get(target.toLowerCase());
    const same = existing?.sha256 === opened.project.files.get(path)!.sha256;
    if (existing && !same && onConflict === 'both') {
      for (let n = 2; taken.has(target.toLowerCase()); n++)
        target = joinPath(
          into,
          joinPath(
            folderOf(path),
            `${stemOf(path)} (${n})${extensionOf(path) ? `.${path.split('.').at(-1)}` : ''}`,
          ),
        );
      plan.conflicts.push({ path: existing.path, outcome: `kept; the package's file is named ${target}` });
    }
    taken.add(target.toLowerCase());
    names.set(path, target);
  }

  // 2. Contents.
  for (const [path, content] of opened.payload) {
    const target = names.get(path)!;
    const existing = there.get(target.toLowerCase());
    const retargets = (opened.project.uses.get(path) ?? [])
      .filter(({ to }) => to !== null && names.get(to) !== joinPath(into, to))
      .map(({ written, to }) => ({ written, to: names.get(to!)! }));
    const bytes = retargets.length === 0 ? content : rewriteLinks(content, target, retargets).bytes;
    retargets.forEach(({ written, to }) => plan.rewires.push({ holder: target, written, rewritten: to, to }));
    if (!existing) plan.changes.push(write(target, null, bytes));
    else if (existing.sha256 !== opened.project.files.get(path)!.sha256) {
      if (onConflict === 'replace') plan.changes.push(write(existing.path, existing.sha256, bytes));
      plan.conflicts.push({
        path: existing.path,
        outcome:
          onConflict === 'replace'
            ? "replaced by the package's file"
            : "kept; the package's file is left out",
      });
    }
  }
  return plan;
}
