import { z } from 'zod';
import { operation, type Planned } from '#core/operation';
import { checkConflicts } from '#core/project/change/change-set';

export const UndoChoices = z.object({
  change: z.string().max(100).nullable().default(null).describe('a change by its id, in place of the latest'),
});
export type UndoChoices = z.infer<typeof UndoChoices>;

/** Takes a recorded change back; taking an undo back is doing it again. */
export const UNDO = operation({
  name: 'undo',
  title: 'Undo',
  purpose: 'Take a change back, as one change that can be taken back itself.',
  place: 'files',
  page: 'activity',
  role: 'editor',
  accepts: { what: 'change' },
  choices: UndoChoices,
  cost: 'quick',
  async plan({ project, draft, inverseOf }, { change: id }): Promise<Planned<null>> {
    const change = await inverseOf(id);
    checkConflicts(change, (path) => {
      const file = project.files.get(path);
      return file && { path, bytes: file.bytes, sha256: file.sha256 };
    });
    for (const { path } of change.changes) if (draft.has(path)) draft.restOn(path);
    return { change, preview: null };
  },
});
