import type { ChangeSet } from '#core/change/change-set';
import type { TaskContext } from '#server/jobs/tasks';
import type { AppliedChange } from '#server/views/planned-view';
import type { ProjectFileSet } from './project-files';

/** Files that will be written over, with the versions that the person has seen. */
export type SeenVersions = readonly { path: string; base: string }[];

/** What the person saw is what is applied: a file that has changed since is a conflict. */
export function basedOn(plan: ChangeSet, seen: SeenVersions): ChangeSet {
  const bases = new Map(seen.map(({ path, base }) => [path, base]));
  return {
    ...plan,
    changes: plan.changes.map((change) =>
      change.action === 'write' && change.base !== null
        ? { ...change, base: bases.get(change.path) ?? change.base }
        : change,
    ),
  };
}

/**
 * Carries out the change of a task and ends the task in the same transaction: a worker that is killed leaves the old
 * state or the new, and whoever cancels in time has cancelled the change.
 * @param more what the page wants to know besides the change
 * @throws ConflictError; TaskCancelled
 */
export async function applyInTask<More extends object>(
  { report, finish }: TaskContext<AppliedChange & More>,
  files: ProjectFileSet,
  plan: ChangeSet,
  more: More,
): Promise<void> {
  await files.applyAs(plan, null, {
    onStored: (done, of) => report('Saving', done, of),
    within: (trx, applied) => finish({ ...more, applied, summary: plan.summary }, { within: trx }),
  });
}
