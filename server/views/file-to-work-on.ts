import type { FileToWorkOn } from '#core/accepts';
import { bodyCount } from '#core/project/scan/content';
import { type Project, type ScannedFile, standsForOther } from '#core/project/scan/project';

/** A file, as far as it matters for what can be done with it. */
export function fileToWorkOn(project: Project, { path, scan }: ScannedFile): FileToWorkOn {
  const derived = (project.usedBy.get(path) ?? []).filter(({ source }) => source).length;
  const isLighter = standsForOther(project, path);
  return { path, role: scan.role, bodies: bodyCount(scan), derived, ...(isLighter && { isLighter }) };
}
