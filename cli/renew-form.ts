import type { RenewChoices, RenewedFile } from '#core/jobs/repair/renew-operation';
import { FINE } from './exit';
import type { CommandForm } from './operation-command';
import { plural, printJson, printLine } from './output';

/** `renew DIR`: each file with what is written anew in it. */
export const RENEW_FORM: CommandForm<RenewChoices, { files: RenewedFile[] }> = {
  tell({ preview: { files }, dryRun, applied, json }) {
    if (json) {
      printJson({ dryRun, applied, files: files.map(({ path, forms }) => ({ path, forms })) });
      return FINE;
    }
    for (const { path, what } of files)
      printLine(`${dryRun ? 'would renew' : 'renewed'}  ${path}: ${what.join('; ')}`);
    if (files.length === 0) printLine('Every link is written as others follow it.');
    else printLine(`${plural(files.length, 'file')} ${dryRun ? 'would be ' : ''}renewed.`);
    return FINE;
  },
};
