import type { TaskKind, TaskName } from '#server/jobs/tasks';
import { APPLY, PLAN } from '#server/operations/operation-tasks';
import { LOOK } from '#server/operations/report-task';

/** Every kind of task, by name. */
export const TASK_KINDS: { readonly [name in TaskName]: TaskKind } = {
  plan: PLAN,
  apply: APPLY,
  look: LOOK,
};
