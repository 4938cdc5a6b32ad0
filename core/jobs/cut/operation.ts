import { operation } from '#core/operation';
import { CutBodyChoices } from './choices';
import type { PiecesOfCut } from './plan-body';
import type { CutPreview } from './view';

/** Cuts a body into pieces. */
export const CUT = operation<CutBodyChoices, PiecesOfCut, CutPreview>({
  name: 'cut',
  title: 'Cut a body',
  purpose: 'Cut one body of a part into pieces, which stay bodies or become components.',
  place: 'make',
  page: 'cut',
  role: 'editor',
  accepts: { what: 'body', parameter: 'file', roles: ['part'], bodies: 1 },
  choices: CutBodyChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan-body')).planCutOf(context, choices),
  view: async (pieces, home) => (await import('./view')).cutPreview(pieces, home),
});
