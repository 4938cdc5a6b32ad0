import { type ChangeSet, write } from '#core/change/change-set';
import type { FileSet } from '#core/change/file-set';
import { baseName } from '#core/links/paths';
import { isBroken } from '#core/links/resolve';
import { rewriteLinks } from '#core/links/rewrite';
import { type Project, type ProjectLink, reachableFrom } from '#core/scan/project';

/** The engineer's choice for one link. */
export interface RepairChoice {
  holder: string;
  written: string;
  target: string;
}

/** A choice that cannot be carried out, in words for the person who made it. */
export class RepairError extends Error {}

/**
 * Plans to point links at chosen files. Pure but for reading the holders; each holder is rewritten once.
 * @throws RepairError for a link or target that is not there, or a target that would make a loop
 */
export async function planRepair(
  project: Project,
  files: FileSet,
  choices: readonly RepairChoice[],
): Promise<ChangeSet> {
  const changes: ChangeSet = { summary: '', changes: [], rewires: [], warnings: [] };
  const byHolder = new Map<string, RepairChoice[]>();
  for (const choice of choices) {
    const { holder, written, target } = choice;
    const link = project.uses.get(holder)?.find((candidate) => candidate.written === written);
    if (!link) throw new RepairError(`${holder} has no link written ${written}.`);
    if (!project.files.has(target))
      throw new RepairError(`There is no file ${target} to point ${written} at.`);
    if (target === holder || reachableFrom(withoutLink(project, link), [target]).includes(holder)) {
      throw new RepairError(
        `${target} cannot be used in ${holder}: the files would place each other in a loop.`,
      );
    }
    const error = project.files.get(target)!.scan.error;
    if (error) changes.warnings.push(`${target} cannot be read: ${error}`);
    const others = byHolder.get(holder) ?? [];
    if (others.some((other) => other.written === written))
      throw new RepairError(`Two choices for ${written} in ${holder}.`);
    byHolder.set(holder, [...others, choice]);
  }

  for (const [holder, chosen] of byHolder) {
    const before = await files.read(holder);
    const { bytes, rewritten } = rewriteLinks(
      before,
      holder,
      chosen.map(({ written, target }) => ({ written, to: target })),
    );
    changes.changes.push(write(holder, project.files.get(holder)!.sha256, bytes));
    chosen.forEach(({ written, target }, n) =>
      changes.rewires.push({ holder, written, rewritten: rewritten[n]!, to: target }),
    );
  }
  const links = `${choices.length} ${choices.length === 1 ? 'link' : 'links'}`;
  changes.summary =
    byHolder.size === 1
      ? `Repaired ${links} in ${[...byHolder.keys()][0]}`
      : `Repaired ${links} in ${byHolder.size} files`;
  return changes;
}

/** The broken links that one choice settles: all that are written with the same file name. */
export function linksWrittenAlike(project: Project, link: ProjectLink): ProjectLink[] {
  const name = baseName(link.written).toLowerCase();
  return project.links.filter(
    (other) => isBroken(other.state) && baseName(other.written).toLowerCase() === name,
  );
}

export function brokenLinks(project: Project): ProjectLink[] {
  return project.links.filter(({ state }) => isBroken(state));
}

function withoutLink(project: Project, link: ProjectLink): Project {
  const uses = new Map(project.uses);
  uses.set(
    link.from,
    (uses.get(link.from) ?? []).filter((other) => other !== link),
  );
  return { ...project, uses };
}
