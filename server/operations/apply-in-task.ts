import type { Knex } from 'knex';
import type { ChangeSet } from '#core/project/change/change-set';
import type { TaskContext } from '#server/jobs/tasks';
import type { ProjectFileSet } from '#server/projects/files/project-files';
import type { AppliedChange } from '#server/views/operations/planned-view';

/**
 * Carries out the change of a task and ends the task in the same transaction: a worker that is killed leaves the old
 * state or the new, and whoever cancels in time has cancelled the change.
 * @param more what the page wants to know besides the change
 * @param blobs contents that are kept for it as long as the task is
 * @param along what else is done in the same transaction
 * @throws ConflictError; TaskCancelled
 */
export async function applyInTask<More extends object>(
  { report, finish }: TaskContext<AppliedChange & More>,
  files: ProjectFileSet,
  plan: ChangeSet,
  more: More,
  blobs: readonly string[] = [],
  along: (trx: Knex.Transaction) => Promise<void> = async () => {},
): Promise<void> {
  await files.applyAs(plan, {
    onStored: (done, of) => report('Saving', done, of),
    within: async (trx, applied) => {
      await along(trx);
      await finish({ ...more, applied, summary: plan.summary }, { within: trx, blobs });
    },
  });
}
