import { isBroken, type LinkState } from '#core/files/links/resolve';
import type { LinkKind } from '#core/project/formats/kinds';
import { type Project, type ProjectLink, resolveProject, type ScannedFile } from '#core/project/scan/project';

/** A link by the file that holds it and by what is written there. */
interface LinkName {
  holder: string;
  kind: LinkKind;
  written: string;
}

/** What new contents mean for the links of a project. */
export interface LinksAfter {
  /** Those that lead nowhere then, and did not before or were not there. */
  broken: (LinkName & { state: LinkState; reason: string })[];
  /** Those that led nowhere and then do. */
  mended: (LinkName & { to: string })[];
  /** How many derived files fall behind. */
  behind: number;
}

/** Holds a project against itself with some contents added or replaced. Linear in files and links. */
export function linksAfter(project: Project, arrived: readonly ScannedFile[]): LinksAfter {
  const files = new Map(project.files);
  for (const file of arrived) files.set(file.path, file);
  const { links } = resolveProject(files.values(), { searchFolders: project.searchFolders });
  const before = new Map(project.links.map((link) => [nameOf(link), link.state]));
  const result: LinksAfter = { broken: [], mended: [], behind: 0 };
  for (const link of links) {
    const { holder, kind, written, to, state, reason } = link;
    const was = before.get(nameOf(link));
    const wasBroken = was !== undefined && isBroken(was);
    if (isBroken(state) && !wasBroken) result.broken.push({ holder, kind, written, state, reason });
    else if (!isBroken(state) && wasBroken) result.mended.push({ holder, kind, written, to: to! });
    if (state === 'behind' && was !== 'behind') result.behind++;
  }
  return result;
}

function nameOf({ holder, kind, written }: ProjectLink): string {
  return JSON.stringify([holder, kind, written]);
}
