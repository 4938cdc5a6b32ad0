import type { FileToWorkOn } from '#core/accepts';
import type { LinkState } from '#core/files/links/resolve';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { ownProducts } from '#core/project/scan/content';
import { belongingFiles, type Project } from '#core/project/scan/project';
import type { Database } from '#server/db/connection';
import { contentsWithBodies, type ShapeState } from '#server/jobs/shapes';
import { fileToWorkOn } from './file-to-work-on';

/** A line of the table of files. */
export interface FileRow extends FileToWorkOn {
  format: string;
  product: string;
  products: number;
  unit: string | null;
  bytes: number;
  version: number;
  links: { [state in LinkState]: number };
  /** How many files lead to it, but for papers about it. */
  usedBy: number;
  /** For a paper: what it is about, or the first of these. */
  about: string | null;
  /** It belongs to nothing that a root assembly needs. */
  unused: boolean;
  error: string | null;
  /** What cannot be trusted in it although it can be read. */
  damage: string | null;
  sha256: string;
}

export async function fileRows(db: Database, projectId: string, project: Project): Promise<FileRow[]> {
  const versions: { path: string; version: number }[] = await db('files')
    .where('project_id', projectId)
    .select('path', 'version');
  const versionOf = new Map(versions.map(({ path, version }) => [path, version]));
  const belonging = belongingFiles(project);
  return [...project.files.values()].map((file) => {
    const { path, bytes, sha256, scan } = file;
    const own = ownProducts(scan);
    return {
      ...fileToWorkOn(project, file),
      format: scan.format,
      product: own.at(0)?.name ?? '',
      products: own.length,
      unit: scan.unit,
      bytes,
      version: versionOf.get(path) ?? 1,
      links: stateCounts(project.uses.get(path) ?? []),
      usedBy: new Set(usersOf(project, path)).size,
      about: (project.uses.get(path) ?? []).find(({ kind }) => LINK_KINDS[kind].isAbout)?.to ?? null,
      unused: !belonging.has(path),
      error: scan.error,
      damage: scan.damage,
      sha256,
    };
  });
}

function usersOf(project: Project, path: string): string[] {
  return (project.usedBy.get(path) ?? []).flatMap(({ holder, kind }) =>
    LINK_KINDS[kind].isAbout ? [] : [holder],
  );
}

export function stateCounts(links: readonly { state: LinkState }[]): { [state in LinkState]: number } {
  const counts = { sound: 0, behind: 0, missing: 0, ambiguous: 0, loop: 0 };
  for (const { state } of links) counts[state]++;
  return counts;
}

/** How far the preparation of shapes is, in contents. */
export interface ShapeProgress {
  total: number;
  open: number;
  /** Cancelled ones wait, like failed ones, to be tried again. */
  failed: number;
  /** Those that nobody has asked for yet. */
  unasked: number;
}

export function shapeProgress(
  project: Project,
  shapes: ReadonlyMap<string, Pick<ShapeState, 'state'>>,
): ShapeProgress {
  const states = [...shapes.values()].map(({ state }) => state);
  return {
    total: states.length,
    open: states.filter((state) => state === 'waiting' || state === 'running').length,
    failed: states.filter((state) => state === 'failed' || state === 'cancelled').length,
    unasked: [...contentsWithBodies(project).keys()].filter((sha256) => !shapes.has(sha256)).length,
  };
}
