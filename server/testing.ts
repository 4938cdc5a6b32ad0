import type { Kernel } from '#core/geometry/shape/kernel';
import { type ChangeSet, write } from '#core/project/change/change-set';
import type { MemoryFileSet } from '#core/project/change/memory';
import { putUser, type User } from '#server/auth/sessions';
import { type Database, database } from '#server/db/connection';
import { migrate } from '#server/db/migrate';
import { runTask } from '#server/jobs/run-task';
import { type Owner, startTask, type TaskName, taskState } from '#server/jobs/tasks';
import { ProjectFileSet } from '#server/projects/files/project-files';
import { createProject } from '#server/projects/projects';
import type { AppliedChange, PlannedView } from '#server/views/operations/planned-view';
import { TASK_KINDS } from '#server/worker/task-kinds';

/** For tests: operations planned and applied in a project as the job worker does it. */
export function operationsIn(db: Database, who: Owner, kernel = {} as Kernel) {
  const run = async <Result>(kind: TaskName, request: object) => {
    const id = await startTask(db, who, kind, request);
    await runTask(db, kernel, TASK_KINDS, id);
    return (await taskState<Result>(db, who, id))!;
  };
  const plan = async <Preview = unknown>(operation: string, choices: object) =>
    run<PlannedView<Preview>>('plan', { operation, choices });
  const apply = async <Preview = unknown>(
    operation: string,
    choices: object,
    { seen }: Pick<PlannedView, 'seen'>,
  ) => run<AppliedChange & { preview: Preview }>('apply', { operation, choices, seen });
  return { plan, apply, run };
}

/** For tests: a migrated database, and a project of its own with an owner. */
export async function testProject(
  files?: MemoryFileSet,
): Promise<{ db: Database; owner: User; project: string; fileSet: ProjectFileSet }> {
  const db = database();
  await migrate(db);
  const owner = await putUser(db, {
    email: `owner-${crypto.randomUUID()}@demo.invalid`,
    name: 'Owner',
    password: 'test-password',
  });
  const project = await createProject(db, owner.id, 'Test project');
  const fileSet = new ProjectFileSet(db, project, owner.id);
  if (files) {
    const plan: ChangeSet = { summary: 'Imported test files', changes: [], rewires: [], warnings: [] };
    for (const { path } of await files.list()) plan.changes.push(write(path, null, await files.read(path)));
    await fileSet.applyAs(plan);
  }
  return { db, owner, project, fileSet };
}
