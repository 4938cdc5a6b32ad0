import { hasStructure } from '#core/project/formats/endings';
import { topProductsOf } from '#core/project/scan/content';
import type { Project, ProjectLink } from '#core/project/scan/project';

/** A file that stands in an assembly as a component. */
export interface LinkedPart {
  path: string;
  /** How often the files that are taken in, and the assembly, place it. */
  placings: number;
  /** 1 for what the assembly itself refers to. */
  level: number;
}

/** A file that cannot be taken in, and why. */
export interface StayingPart {
  path: string;
  placings: number;
  why: string;
}

export interface LinkedParts {
  parts: LinkedPart[];
  staying: StayingPart[];
}

/**
 * The files that an assembly places as components, and with them, to any depth, those that they place; and which of them have to stay
 * files. What comes first is placed nearer to the top.
 * @param isWanted of those that the assembly itself places
 */
export function linkedParts(
  project: Project,
  assembly: string,
  { isDeep, isWanted = () => true }: { isDeep: boolean; isWanted?: (path: string) => boolean },
): LinkedParts {
  const found = new Map<string, LinkedPart>();
  const staying = new Map<string, StayingPart>();
  const open = [{ path: assembly, level: 0 }];
  for (const { path: holder, level } of open)
    for (const link of componentLinks(project, holder)) {
      const { to } = link;
      if (to === null || (level === 0 && !isWanted(to))) continue;
      const known = found.get(to) ?? staying.get(to);
      if (known) known.placings += link.occurrences;
      else {
        const why = whyItStays(project, to, assembly);
        if (why !== null) {
          staying.set(to, { path: to, placings: link.occurrences, why });
          continue;
        }
        found.set(to, { path: to, placings: link.occurrences, level: level + 1 });
        if (isDeep) open.push({ path: to, level: level + 1 });
      }
    }
  return { parts: [...found.values()], staying: [...staying.values()] };
}

export function componentLinks(project: Project, holder: string): ProjectLink[] {
  return (project.uses.get(holder) ?? []).filter(({ kind }) => kind === 'component');
}

function whyItStays(project: Project, path: string, assembly: string): string | null {
  const file = project.files.get(path);
  if (!file) return 'it is not there';
  const { scan } = file;
  if (path === assembly || project.loops.get(path)?.includes(assembly))
    return 'it uses the assembly itself: it cannot be a part of it';
  if (scan.error !== null) return `it cannot be read: ${withoutPoint(scan.error)}`;
  if (scan.damage !== null) return withoutPoint(scan.damage);
  if (!hasStructure(path)) return 'only STEP can stand in a STEP file';
  const tops = topProductsOf(scan);
  if (tops.length !== 1)
    return tops.length === 0 ? 'it holds no part' : `it holds ${tops.length} parts side by side`;
  return null;
}

/** Words for the middle of a sentence. */
function withoutPoint(words: string): string {
  return words.replace(/\.$/, '');
}
