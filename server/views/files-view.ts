import type { LinkState } from '#core/links/resolve';
import { bodyCount, ownProducts } from '#core/scan/content';
import type { FileRole } from '#core/scan/formats';
import { type Project, reachableFrom, rootsOf } from '#core/scan/project';
import type { Database } from '#server/db/connection';
import type { ShapeState } from '#server/jobs/shapes';

/** A line of the table of files. */
export interface FileRow {
  path: string;
  role: FileRole;
  format: string;
  product: string;
  products: number;
  bodies: number;
  unit: string | null;
  bytes: number;
  version: number;
  links: { [state in LinkState]: number };
  usedBy: number;
  /** No root assembly reaches it. */
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
  const reached = new Set(reachableFrom(project, rootsOf(project)));
  return [...project.files.values()].map(({ path, bytes, sha256, scan }) => {
    const own = ownProducts(scan);
    return {
      path,
      role: scan.role,
      format: scan.format,
      product: own.at(0)?.name ?? '',
      products: own.length,
      bodies: bodyCount(scan),
      unit: scan.unit,
      bytes,
      version: versionOf.get(path) ?? 1,
      links: stateCounts(project.uses.get(path) ?? []),
      usedBy: new Set((project.usedBy.get(path) ?? []).map(({ from }) => from)).size,
      unused: !reached.has(path),
      error: scan.error,
      damage: scan.damage,
      sha256,
    };
  });
}

export function stateCounts(links: readonly { state: LinkState }[]): { [state in LinkState]: number } {
  const counts = { sound: 0, behind: 0, missing: 0, ambiguous: 0, loop: 0 };
  for (const { state } of links) counts[state]++;
  return counts;
}

/** How far the preparation of shapes is; cancelled ones wait, like failed ones, to be tried again. */
export function shapeProgress(shapes: ReadonlyMap<string, ShapeState>): {
  open: number;
  failed: number;
  total: number;
} {
  const states = [...shapes.values()].map(({ state }) => state);
  return {
    total: states.length,
    open: states.filter((state) => state === 'waiting' || state === 'running').length,
    failed: states.filter((state) => state === 'failed' || state === 'cancelled').length,
  };
}
