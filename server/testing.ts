import { type ChangeSet, write } from '#core/change/change-set';
import type { MemoryFileSet } from '#core/change/memory';
import { putUser, type User } from '#server/auth/sessions';
import { type Database, database } from '#server/db/connection';
import { migrate } from '#server/db/migrate';
import { ProjectFileSet } from '#server/projects/project-files';
import { createProject } from '#server/projects/projects';

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
