import { LINK_KINDS } from '#core/formats/kinds';
import type { Project, ProjectLink } from '#core/scan/project';
import type { FileVersion } from '#server/projects/projects';

type PlainLink = Pick<ProjectLink, 'holder' | 'kind' | 'written' | 'to' | 'state' | 'reason' | 'occurrences'>;

/** A file's links, both ways. */
export interface FileLinks {
  path: string;
  uses: PlainLink[];
  usedBy: PlainLink[];
  /** For a drawing: what it shows. */
  shows: PlainLink[];
  /** The drawings that show it. */
  drawings: string[];
  /** What it came out of. */
  sources: { source: string; isBehind: boolean; bodies: string[] }[];
  /** How many files came out of it. */
  cameOut: number;
}

/** All that a drawer shows of a file. */
export interface FileFacts extends FileLinks {
  versions: FileVersion[];
}

export function fileLinks(project: Project, path: string): FileLinks {
  const uses = project.uses.get(path) ?? [];
  const usedBy = project.usedBy.get(path) ?? [];
  return {
    path,
    uses: uses.filter((link) => !isAbout(link)).map(plain),
    usedBy: usedBy.filter((link) => !isAbout(link)).map(plain),
    shows: uses.filter(isAbout).map(plain),
    drawings: usedBy.filter(isAbout).map(({ holder }) => holder),
    sources: uses.flatMap(({ source, to, state }) => {
      if (!source || to === null) return [];
      const bodies = source.bodies.map(({ id, name }) => name || `body #${id}`);
      return [{ source: to, isBehind: state === 'behind', bodies }];
    }),
    cameOut: usedBy.filter(({ source }) => source).length,
  };
}

function isAbout({ kind }: ProjectLink): boolean {
  return LINK_KINDS[kind].isAbout;
}

function plain({ holder, kind, written, to, state, reason, occurrences }: ProjectLink): PlainLink {
  return { holder, kind, written, to, state, reason, occurrences };
}
