import { z } from 'zod';
import { MOST_CHOSEN } from '#core/misfit';
import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import type { PlannedMove } from './plan';

export const MoveChoices = z.object({
  /** Files and folders, and where each goes. */
  moves: z
    .array(z.object({ from: z.string().min(1), to: z.string().max(1024) }))
    .min(1)
    .max(MOST_CHOSEN),
  /** Names without an ending are meant so. */
  withoutEnding: z.boolean().default(false).describe('names without an ending are meant so'),
});
export type MoveChoices = z.infer<typeof MoveChoices>;

/** Renames and moves files and folders; every link follows. */
export const MOVE = operation<MoveChoices, { moves: PlannedMove[] }, unknown, Planning>({
  name: 'move',
  command: 'mv',
  title: 'Rename or move',
  purpose: 'Rename or move files and folders, with every link to them and in them.',
  place: 'files',
  page: 'move',
  role: 'editor',
  accepts: { what: 'files', parameter: 'what', folders: true },
  key: 'F2',
  choices: MoveChoices,
  cost: 'slow',
  async plan(context, { moves: asked, withoutEnding }) {
    const { outlineMoves, planMoves } = await import('./plan');
    const moves = outlineMoves(context, asked, { withoutEnding });
    const wrong = moves.find(({ problem }) => problem !== null);
    if (wrong)
      return {
        change: await context.draft.finish('Nothing yet'),
        preview: { moves },
        hindrance: `${wrong.to}: ${wrong.problem} ${wrong.proposal} would do.`,
      };
    return { change: await planMoves(context, moves, asked), preview: { moves } };
  },
  form: async () => (await import('./command')).MOVE_FORM,
});
