import { startingPoints } from '#core/project/scan/project';
import type { Database } from '#server/db/connection';
import { readLog } from '#server/projects/projects';
import { loadProject } from '#server/projects/scan/project-scan';
import { requireNamed } from '#server/views/files/named-file';

/** What the page of a bill of materials starts with; the bill itself comes from its report. */
export interface BillView {
  /** The assembly that is listed; null where nothing has a structure. */
  file: string | null;
  /** Files that have a structure, those that nothing places first. */
  files: string[];
  /** Changes before which the bill may have been another, newest first. */
  moments: { id: string; summary: string; time: string }[];
}

/** So many moments are offered. */
const MOST_MOMENTS = 100;

/** @param named the file that the address names */
export async function billView(db: Database, projectId: string, named: string | null): Promise<BillView> {
  const project = await loadProject(db, projectId);
  requireNamed(project, named);
  const starts = startingPoints(project);
  const others = [...project.files.values()].flatMap(({ path, scan }) =>
    scan.products.length > 0 && !starts.includes(path) ? [path] : [],
  );
  const log = await readLog(db, projectId);
  return {
    file: named ?? starts[0] ?? null,
    files: [...starts, ...others],
    moments: log
      .flatMap(({ changeSet, summary, time }) => (changeSet ? [{ id: changeSet.id, summary, time }] : []))
      .slice(0, MOST_MOMENTS),
  };
}
