import { type ChangeSet, write } from '#core/change/change-set';
import type { FileSet } from '#core/change/file-set';
import { rewriteLinks } from '#core/links/rewrite';
import { withStandInsNamed } from '#core/links/stand-in';
import type { Project, ProjectLink } from '#core/scan/project';

/** The component links to a file, by the file that holds them. */
export function usersOf(project: Project, path: string): Map<string, ProjectLink[]> {
  const users = new Map<string, ProjectLink[]>();
  for (const { from } of project.usedBy.get(path) ?? []) {
    if (users.has(from)) continue;
    const links = (project.uses.get(from) ?? []).filter(
      ({ to, kind }) => to === path && kind === 'component',
    );
    if (links.length > 0) users.set(from, links);
  }
  return users;
}

/** Adds to a change that everything that uses one file uses another one from now on. */
export async function rewireUsers(
  project: Project,
  files: FileSet,
  path: string,
  to: string,
  changes: ChangeSet,
): Promise<void> {
  for (const [holder, links] of usersOf(project, path)) {
    const bytes = await files.read(holder);
    changes.changes.push(
      write(holder, project.files.get(holder)!.sha256, rewire(bytes, holder, links, to, changes)),
    );
  }
}

/**
 * The holder with some of its links pointing elsewhere. The change tells of each.
 * @param part what the links lead to then, where it is another part than the stand-ins say
 */
export function rewire(
  bytes: Uint8Array,
  holder: string,
  links: readonly ProjectLink[],
  to: string,
  changes: ChangeSet,
  part?: { id: string; name: string },
): Uint8Array {
  const result = rewriteLinks(
    bytes,
    holder,
    links.map(({ kind, written }) => ({ kind, written, to })),
  );
  links.forEach(({ written, to: was }, n) =>
    changes.rewires.push({ holder, written, rewritten: result.rewritten[n]!, to, was }),
  );
  if (!part) return result.bytes;
  const standIns = links.flatMap(({ definitions }) => definitions);
  return withStandInsNamed(
    result.bytes,
    standIns.map((definition) => ({ definition, id: part.id, name: part.name })),
  );
}
