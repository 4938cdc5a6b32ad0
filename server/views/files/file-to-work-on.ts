import type { FileToWorkOn } from '#core/accepts';
import { bodyCount } from '#core/project/scan/content';
import {
  canTakePlace,
  hasStandIns,
  isMadeForOutside,
  type Project,
  type ScannedFile,
} from '#core/project/scan/project';

/** A file, as far as it matters for what can be done with it. */
export function fileToWorkOn(project: Project, { path, scan }: ScannedFile): FileToWorkOn {
  const derived = (project.usedBy.get(path) ?? []).filter(({ source }) => source);
  const behind = derived.filter(({ state }) => state === 'behind').length;
  return {
    path,
    role: scan.role,
    bodies: bodyCount(scan),
    derived: derived.length,
    ...(behind > 0 && { behind }),
    ...(canTakePlace(project, path) && { isLighter: true }),
    ...(isMadeForOutside(project, path) && { isForOutside: true }),
    ...(hasStandIns(project, path) && { hasLighter: true }),
  };
}
