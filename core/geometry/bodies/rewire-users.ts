import type { Planning } from '#core/planning';
import type { Project, ProjectLink } from '#core/project/scan/project';

/** The component links to a file, by the file that holds them. */
export function usersOf(project: Project, path: string): Map<string, ProjectLink[]> {
  const users = new Map<string, ProjectLink[]>();
  for (const { holder } of project.usedBy.get(path) ?? []) {
    if (users.has(holder)) continue;
    const links = (project.uses.get(holder) ?? []).filter(
      ({ to, kind }) => to === path && kind === 'component',
    );
    if (links.length > 0) users.set(holder, links);
  }
  return users;
}

/** Plans that everything that uses one file uses another one from now on. */
export async function rewireUsers({ project, draft }: Planning, path: string, to: string): Promise<void> {
  for (const [holder, links] of usersOf(project, path))
    for (const { kind, written } of links) await draft.retarget({ holder, kind, written }, to);
}
