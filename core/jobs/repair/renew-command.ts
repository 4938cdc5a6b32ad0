import type { CommandForm } from '#core/command/form';
import { plural } from '#core/command/words';
import type { RenewChoices, RenewedFile } from '#core/jobs/repair/renew-operation';

/** `renew DIR`: each file with what is written anew in it. */
export const RENEW_FORM: CommandForm<RenewChoices, { files: RenewedFile[] }> = {
  tell({ preview: { files }, dryRun, applied }) {
    const json = { dryRun, applied, files: files.map(({ path, forms }) => ({ path, forms })) };
    const lines: string[] = [];
    for (const { path, what } of files)
      lines.push(`${dryRun ? 'would renew' : 'renewed'}  ${path}: ${what.join('; ')}`);
    if (files.length === 0) lines.push('Every link is written as others follow it.');
    else lines.push(`${plural(files.length, 'file')} ${dryRun ? 'would be ' : ''}renewed.`);
    return { json, lines };
  },
};
