import { afterAll, describe, expect, it } from 'vitest';
import { MOVE } from '#core/jobs/move/operation';
import { planOperation } from '#core/operation';
import { planningOn } from '#core/planning';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { putUser } from '#server/auth/sessions';
import { closeDatabase } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { ProjectFileSet } from '#server/projects/files/project-files';
import { createProject, listProjects, putMember } from '#server/projects/projects';
import { loadProject } from '#server/projects/scan/project-scan';
import { testProject } from '#server/testing';
import { noteOpened, setStar, starredFiles } from './stars';

afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

const plate = writeBoxPart({ id: 'P', boxes: [{ size: [20, 10, 10], colour: '#ff0000' }] });

describe('stars', () => {
  it('stay with a file wherever it goes, are of one person, and go when somebody leaves', async () => {
    const { db, owner, project } = await testProject(
      new MemoryFileSet([
        ['a.stp', plate],
        ['b.stp', plate],
      ]),
    );
    const mine = { user: owner.id, project };
    const other = await putUser(db, {
      email: `${crypto.randomUUID()}@test.invalid`,
      name: 'Other',
      password: 'x',
    });
    await putMember(db, project, other.id, 'viewer');
    expect(await setStar(db, mine, 'a.stp', true)).toBe(true);
    expect(await setStar(db, mine, 'a.stp', true)).toBe(true);
    expect(await setStar(db, mine, 'gone.stp', true)).toBe(false);
    await setStar(db, { user: other.id, project }, 'b.stp', true);
    expect(await starredFiles(db, mine)).toEqual(['a.stp']);
    const files = new ProjectFileSet(db, project, owner.id);
    const { change } = await planOperation(MOVE, planningOn(await loadProject(db, project), files), {
      moves: [{ from: 'a.stp', to: 'sub/c.stp' }],
    });
    await files.applyAs(change);
    expect(await starredFiles(db, mine)).toEqual(['sub/c.stp']);
    await setStar(db, mine, 'sub/c.stp', false);
    expect(await starredFiles(db, mine)).toEqual([]);
    await db('members').where({ project_id: project, user_id: other.id }).delete();
    expect(await db('stars').where('project_id', project)).toEqual([]);
  });

  it('put a project first in the list of who gave them; then come those that were opened last', async () => {
    const { db, owner } = await testProject(new MemoryFileSet([]));
    const names = ['A', 'B', 'C', 'D'];
    const ids = new Map<string, string>();
    for (const name of names) ids.set(name, await createProject(db, owner.id, name));
    const listed = async () =>
      (await listProjects(db, owner.id)).map(({ name }) => name).filter((name) => names.includes(name));
    expect(await listed()).toEqual(['A', 'B', 'C', 'D']);
    await noteOpened(db, { user: owner.id, project: ids.get('C')! });
    await noteOpened(db, { user: owner.id, project: ids.get('B')! });
    await setStar(db, { user: owner.id, project: ids.get('D')! }, null, true);
    expect(await listed()).toEqual(['D', 'B', 'C', 'A']);
    // Looked at again a moment later, it is the same visit.
    await noteOpened(db, { user: owner.id, project: ids.get('C')! });
    expect(await listed()).toEqual(['D', 'B', 'C', 'A']);
  });
});
