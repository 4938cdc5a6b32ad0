import { z } from 'zod';
import { baseName } from '#core/files/links/paths';
import { MOST_CHOSEN } from '#core/misfit';
import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import { manifestOn } from '#core/project/change/project-manifest';
import { withAttachment } from '#core/project/formats/attachments';
import { MANIFEST_NAME, withEntries } from '#core/project/formats/manifest';
import { Refusal } from '#core/refusal';

export const AttachChoices = z.object({
  files: z
    .array(z.string().min(1).max(4000))
    .min(1)
    .max(MOST_CHOSEN)
    .describe('reports, pictures, tables and other files that belong to the model'),
  to: z.string().min(1).max(4000).describe('the model that they belong to'),
  note: z.string().max(300).default('').describe('what they are of it, in a few words'),
});
export type AttachChoices = z.infer<typeof AttachChoices>;

/** Files become papers of a model, by the manifest: no byte of theirs changes. */
export const ATTACH = operation<AttachChoices, null, unknown, Planning>({
  name: 'attach',
  title: 'Attach to a model',
  purpose: 'Say that reports, pictures or tables belong to a model; the manifest of the project keeps it.',
  place: 'links',
  page: 'attach',
  role: 'editor',
  accepts: { what: 'files', parameter: 'what' },
  choices: AttachChoices,
  cost: 'quick',
  async plan({ draft }, { files, to, note }) {
    for (const path of [...files, to]) if (!draft.has(path)) throw new Refusal(`There is no file ${path}.`);
    if (files.includes(to)) throw new Refusal(`${to} cannot be attached to itself.`);
    if (files.includes(MANIFEST_NAME) || to === MANIFEST_NAME)
      throw new Refusal('The manifest keeps what is attached; it is attached to nothing itself.');
    const before = await manifestOn(draft);
    await draft.write(
      MANIFEST_NAME,
      withEntries(before, ({ attachments = [] }) => ({
        attachments: files.reduce(
          (list, file) =>
            withAttachment(list, { file, to, ...(note.trim() !== '' && { note: note.trim() }) }),
          attachments,
        ),
      })),
    );
    for (const path of [...files, to])
      draft.linked({ holder: MANIFEST_NAME, kind: 'listed', written: path }, path);
    const what = files.length === 1 ? baseName(files[0]!) : `${files.length} files`;
    return { change: await draft.finish(`Attached ${what} to ${baseName(to)}`), preview: null };
  },
  form: async () => (await import('./command')).ATTACH_FORM,
});
