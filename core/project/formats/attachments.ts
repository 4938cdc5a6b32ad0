import { z } from 'zod';

const Path = z.string().min(1).max(2000);

/** A paper of a model that cannot say so itself: a report, a picture, a table. */
export const Attachment = z
  .object({
    file: Path.describe('Path of the report, picture or table, as seen from the manifest.'),
    to: Path.describe('Path of the model that it belongs to, as seen from the manifest.'),
    note: z.string().trim().max(300).optional().describe('What it is of the model.'),
  })
  .describe('A file that belongs to a model, where neither can say so.');
export type Attachment = z.infer<typeof Attachment>;

/** The list with one attachment more, or with another note for it. */
export function withAttachment(before: readonly Attachment[], one: Attachment): Attachment[] {
  return [...withoutAttachment(before, one), one].sort((a, b) =>
    a.to === b.to ? (a.file < b.file ? -1 : 1) : a.to < b.to ? -1 : 1,
  );
}

/** The list without an attachment. */
export function withoutAttachment(
  before: readonly Attachment[],
  { file, to }: Pick<Attachment, 'file' | 'to'>,
): Attachment[] {
  return before.filter((other) => other.file !== file || other.to !== to);
}
