import { Refusal } from '#core/refusal';
import type { ContentScan } from './content';
import type { Project } from './project';

/** What is known of a file whose text shall be changed. @throws Refusal where there is none, or it cannot be read, or not be trusted */
export function changeableScan(project: Project, path: string): ContentScan {
  const scan = project.files.get(path)?.scan;
  if (!scan) throw new Refusal(`There is no file ${path}.`);
  if (scan.error !== null) throw new Refusal(`${path}: ${scan.error}`);
  if (scan.damage !== null)
    throw new Refusal(`${path}: ${scan.damage} Repair it in the system that wrote it first.`);
  return scan;
}
