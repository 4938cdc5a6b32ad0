import type { FileToWorkOn } from '#core/accepts';
import { bodyCount } from '#core/scan/content';
import type { Project, ScannedFile } from '#core/scan/project';

/** A file, as far as it matters for what can be done with it. */
export function fileToWorkOn({ usedBy }: Project, { path, scan }: ScannedFile): FileToWorkOn {
  const derived = (usedBy.get(path) ?? []).filter(({ source }) => source).length;
  return { path, role: scan.role, bodies: bodyCount(scan), derived };
}
