import { z } from 'zod';
import { operation } from '#core/operation';
import type { Planned } from '#core/planned';
import type { PlanContext } from '#core/planning';
import { type ChangeSet, checkConflicts } from '#core/project/change/change-set';

export const UndoChoices = z.object({
  change: z
    .string()
    .max(100)
    .nullable()
    .default(null)
    .describe('a change by its id, in place of the latest that still stands'),
});
export type UndoChoices = z.infer<typeof UndoChoices>;

/** Takes a recorded change back. */
export const UNDO = operation<UndoChoices, null>({
  name: 'undo',
  title: 'Undo',
  purpose: 'Take the latest change back that still stands, or another one.',
  place: 'files',
  page: 'activity',
  role: 'editor',
  accepts: { what: 'change' },
  choices: UndoChoices,
  cost: 'quick',
  plan: async (context, { change }) => planBack(context, await context.inverseOf(change)),
  form: async () => (await import('./command')).UNDO_FORM,
});

/** Makes again what was taken back, until something else is done. */
export const REDO = operation<object, null>({
  name: 'redo',
  title: 'Redo',
  purpose: 'Make the latest change again that was taken back.',
  place: 'files',
  page: 'activity',
  role: 'editor',
  accepts: { what: 'change' },
  choices: z.object({}),
  cost: 'quick',
  plan: async (context) => planBack(context, await context.inverseOf('taken back')),
  form: async () => (await import('./command')).UNDO_FORM,
});

function planBack({ project, draft }: PlanContext, change: ChangeSet): Planned<null> {
  checkConflicts(change, (path) => {
    const file = project.files.get(path);
    return file && { path, bytes: file.bytes, sha256: file.sha256 };
  });
  for (const { path } of change.changes) if (draft.has(path)) draft.restOn(path);
  return { change, preview: null };
}
