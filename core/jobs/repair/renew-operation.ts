import { z } from 'zod';
import { MOST_CHOSEN } from '#core/misfit';
import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import type { OldForm } from '#core/project/formats/link-format';
import { Refusal } from '#core/refusal';
import { filesToRenew, formInWords, planRenew } from './renew';

export const RenewChoices = z.object({
  paths: z.array(z.string()).max(MOST_CHOSEN).nullable().default(null).describe('only these files'),
});
export type RenewChoices = z.infer<typeof RenewChoices>;

/** A file, and what is written anew in it, in words. */
export interface RenewedFile {
  path: string;
  forms: OldForm[];
  what: string[];
}

/** Writes links anew in the form that others follow. */
export const RENEW = operation<RenewChoices, { files: RenewedFile[] }, unknown, Planning>({
  name: 'renew',
  title: 'Renew how links are written',
  purpose: 'Write links anew in the form that other programs follow.',
  place: 'links',
  page: 'renew',
  role: 'editor',
  accepts: { what: 'project', isUnlisted: true },
  choices: RenewChoices,
  cost: 'slow',
  async plan(context, { paths }) {
    const old = filesToRenew(context.project).filter(({ path }) => paths === null || paths.includes(path));
    if (paths !== null && old.length === 0)
      throw new Refusal('These files are written as others follow them by now.');
    return {
      change: await planRenew(context, old),
      preview: { files: old.map(({ path, forms }) => ({ path, forms, what: forms.map(formInWords) })) },
    };
  },
  form: async () => (await import('./renew-command')).RENEW_FORM,
});
