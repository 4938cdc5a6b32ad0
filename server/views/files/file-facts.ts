import type { MadeReport } from '#core/product/source/made-report';
import { LINK_KINDS } from '#core/project/formats/kinds';
import type { MadeForOutside } from '#core/project/formats/manifest';
import { type MadeBefore, madeBefore } from '#core/project/scan/made-before';
import type { Project, ProjectLink } from '#core/project/scan/project';
import type { DoneWithFile, FileVersion } from '#server/projects/projects';

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
  /** Papers that the manifest attaches to it. */
  papers: { file: string; note?: string }[];
  /** Models that the manifest attaches it to. */
  attachedTo: string[];
  /** What it came out of. */
  sources: { source: string; isBehind: boolean; bodies: string[] }[];
  /** What came out of it, by the operation. */
  cameOut: MadeBefore[];
}

/** All that a drawer shows of a file. */
export interface FileFacts extends FileLinks {
  /** What a file turned out to be that was made lighter than its original. */
  made: MadeReport | null;
  versions: FileVersion[];
  /** What was done with it that left no file tied to it: cut, packed, published. */
  done: DoneWithFile[];
}

export function fileLinks(
  project: Project,
  path: string,
  outside: readonly MadeForOutside[] = [],
): FileLinks {
  const uses = project.uses.get(path) ?? [];
  const usedBy = project.usedBy.get(path) ?? [];
  return {
    path,
    uses: uses.filter((link) => !isAbout(link)).map(plain),
    // What the manifest lists is said where it is attached.
    usedBy: usedBy.filter((link) => !isAbout(link) && link.kind !== 'listed').map(plain),
    shows: uses.filter(isAbout).map(plain),
    drawings: usedBy.filter(isAbout).map(({ holder }) => holder),
    papers: (project.attached.get(path) ?? []).map(({ file, note }) => ({ file, ...(note && { note }) })),
    attachedTo: [...project.attached].flatMap(([to, papers]) =>
      papers.some(({ file }) => file === path) ? [to] : [],
    ),
    sources: uses.flatMap(({ source, to, state }) => {
      if (!source || to === null) return [];
      const bodies = source.bodies.map(({ id, name }) => name || `body #${id}`);
      return [{ source: to, isBehind: state === 'behind', bodies }];
    }),
    cameOut: madeBefore(project, path, outside),
  };
}

/** The report of how a file was made: it stands in the file, or for strangers' files in the manifest. */
export function madeReportOf(
  project: Project,
  path: string,
  outside: readonly MadeForOutside[],
): MadeReport | null {
  const recipes = project.uses.get(path)?.map(({ source }) => source?.recipe) ?? [];
  const own = recipes.find((recipe) => recipe?.report)?.report;
  return own ?? outside.find(({ file }) => file === path)?.report ?? null;
}

function isAbout({ kind }: ProjectLink): boolean {
  return LINK_KINDS[kind].isAbout;
}

function plain({ holder, kind, written, to, state, reason, occurrences }: ProjectLink): PlainLink {
  return { holder, kind, written, to, state, reason, occurrences };
}
