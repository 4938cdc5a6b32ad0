import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { gearUnit } from '#core/testing/projects';
import type { ProjectAccess } from '#server/auth/guard';
import { putUser } from '#server/auth/sessions';
import { closeDatabase, type Database } from '#server/db/connection';
import { sayAlive, sayGone } from '#server/db/workers';
import { stopJobs } from '#server/jobs/queue';
import { cancelTask, startTask } from '#server/jobs/tasks';
import { putMember } from '#server/projects/projects';
import { testProject } from '#server/testing';
import { runningIn } from './running';

let db: Database;
let project: string;
const people: { [role in 'owner' | 'editor']: string } = { owner: '', editor: '' };
beforeAll(async () => {
  const made = await testProject(gearUnit());
  ({ db, project } = made);
  const editor = await putUser(db, {
    email: `editor-${project}@demo.invalid`,
    name: 'Editor',
    password: 'a-password',
  });
  await putMember(db, project, editor.id, 'editor');
  Object.assign(people, { owner: made.owner.id, editor: editor.id });
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

const seenBy = (role: 'owner' | 'editor') =>
  runningIn({ db, project: { id: project }, user: { id: people[role] }, role } as unknown as ProjectAccess);

describe('what is under way', () => {
  it('is shown to whoever asked for it and to owners, with what was chosen, until it has ended', async () => {
    const owner = { project, user: people.owner };
    const editor = { project, user: people.editor };
    await startTask(db, owner, 'apply', {
      operation: 'move',
      choices: { moves: [{ from: 'drive', to: 'drives' }] },
      seen: [],
    });
    const looked = await startTask(db, editor, 'look', { report: 'scan', choices: {} });
    const ownersView = await seenBy('owner');
    expect(
      ownersView.tasks.map(({ title, who, isLooking, state }) => [title, who, isLooking, state]),
    ).toEqual([
      ['Rename or move', null, false, 'waiting'],
      [expect.stringMatching(/links/i), 'Editor', true, 'waiting'],
    ]);
    expect(ownersView.tasks[0]!.choices).toContain('drives');
    const editorsView = await seenBy('editor');
    expect(editorsView.tasks.map(({ id }) => id)).toEqual([looked]);
    // Nobody stops the work of others but an owner.
    await cancelTask(db, editor, ownersView.tasks[0]!.id);
    expect((await seenBy('owner')).tasks).toHaveLength(2);
    await cancelTask(db, owner, looked, 'any');
    expect((await seenBy('editor')).tasks).toEqual([]);
  });

  it('says when nobody does it', async () => {
    const worker = crypto.randomUUID();
    await db('workers').delete();
    expect((await seenBy('owner')).isServed).toBe(false);
    await sayAlive(db, worker);
    expect((await seenBy('owner')).isServed).toBe(true);
    await sayGone(db, worker);
  });
});
