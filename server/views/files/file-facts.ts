import type { MadeReport } from '#core/product/source/made-report';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { MANIFEST_NAME, readManifest } from '#core/project/formats/manifest';
import type { Project, ProjectLink } from '#core/project/scan/project';
import { getBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
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
  /** What a file turned out to be that was made lighter than its original. */
  made: MadeReport | null;
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

/** The report of how a file was made: it stands in the file, or for strangers' files in the manifest. */
export async function madeReportOf(db: Database, project: Project, path: string): Promise<MadeReport | null> {
  const recipes = project.uses.get(path)?.map(({ source }) => source?.recipe) ?? [];
  const own = recipes.find((recipe) => recipe?.report)?.report;
  const manifest = project.files.get(MANIFEST_NAME);
  if (own || !manifest || manifest.scan.error) return own ?? null;
  if (!project.usedBy.get(path)?.some(({ holder }) => holder === MANIFEST_NAME)) return null;
  const { outside } = readManifest(await getBlob(db, manifest.sha256));
  return outside.find(({ file }) => file === path)?.report ?? null;
}

function isAbout({ kind }: ProjectLink): boolean {
  return LINK_KINDS[kind].isAbout;
}

function plain({ holder, kind, written, to, state, reason, occurrences }: ProjectLink): PlainLink {
  return { holder, kind, written, to, state, reason, occurrences };
}
