import type { TaskKind, TaskName } from '#server/jobs/tasks';
import { APPLY, PLAN } from '#server/operations/operation-tasks';
import { CUT, KEEP_PIECES } from '#server/projects/cuts';
import { CUT_TIE, FOLLOW } from '#server/projects/follow';
import { PACKAGE } from '#server/projects/packages';
import { SPLIT } from '#server/projects/split';
import { COMPARISON } from './comparison';

/** Every kind of task, by name. */
export const TASK_KINDS: { readonly [name in TaskName]: TaskKind } = {
  plan: PLAN,
  apply: APPLY,
  package: PACKAGE,
  cut: CUT,
  'keep-pieces': KEEP_PIECES,
  split: SPLIT,
  comparison: COMPARISON,
  follow: FOLLOW,
  'cut-tie': CUT_TIE,
};
