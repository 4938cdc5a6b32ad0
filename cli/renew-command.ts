import { FolderFileSet } from '#core/change/folder';
import { planningOn } from '#core/operation';
import { filesToRenew, formInWords, planRenew } from '#core/repair/renew';
import { scanFileSet } from '#core/scan/scan';
import { FINE } from './exit';
import { plural, printJson, printLine } from './output';

/** Writes the links of a folder anew in the form that others follow. */
export async function renewCommand(
  folder: string,
  options: { dryRun?: boolean; json?: boolean },
): Promise<number> {
  const files = await FolderFileSet.open(folder);
  const project = await scanFileSet(files);
  const old = filesToRenew(project);
  const plan = await planRenew(planningOn(project, files), old);
  const applied = !options.dryRun && plan.changes.length > 0;
  if (applied) await files.apply(plan);
  if (options.json) printJson({ dryRun: options.dryRun ?? false, applied, files: old });
  else {
    for (const { path, forms } of old)
      printLine(
        `${options.dryRun ? 'would renew' : 'renewed'}  ${path}: ${forms.map(formInWords).join('; ')}`,
      );
    if (old.length === 0) printLine('Every link is written as others follow it.');
    else printLine(`${plural(old.length, 'file')} ${options.dryRun ? 'would be ' : ''}renewed.`);
  }
  return FINE;
}
