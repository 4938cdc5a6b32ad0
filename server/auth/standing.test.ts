import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import type { Kernel } from '#core/geometry/shape/kernel';
import { gearUnit } from '#core/testing/projects';
import { closeDatabase, type Database } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { runTask } from '#server/jobs/run-task';
import { startTask, taskState } from '#server/jobs/tasks';
import { setArchived } from '#server/projects/life/life';
import { invite } from '#server/projects/people/invitations';
import { removeMember, setRole, updateProject } from '#server/projects/people/members';
import { setDisabled } from '#server/projects/people/people';
import { putMember } from '#server/projects/projects';
import { operationsIn, testProject } from '#server/testing';
import { TASK_KINDS } from '#server/worker/task-kinds';
import { putUser, sessionHash, signIn, signOut, type User } from './sessions';

let db: Database;
let project: string;
let owner: User;
let person: User;
let request: Request;
let session: string;

beforeEach(async () => {
  ({ db, project, owner } = await testProject(gearUnit()));
  const email = `person-${crypto.randomUUID()}@demo.invalid`;
  person = await putUser(db, { email, name: 'Person', password: 'a-password' });
  await putMember(db, project, person.id, 'editor');
  const cookie = await signIn(db, new Request('http://stone.test/'), email, 'a-password');
  request = new Request('http://stone.test/', { headers: { Cookie: cookie.split(';')[0]! } });
  session = (await sessionHash(request))!;
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

/** What may happen to somebody while their work waits, and what they are told. */
const MEANWHILE: { readonly [what: string]: [happens: () => Promise<unknown>, words: string] } = {
  removed: [() => removeMember(db, project, owner.id, person.id), 'You are no longer a member'],
  'made a viewer': [() => setRole(db, project, owner.id, person.id, 'viewer'), 'you are viewer in'],
  disabled: [() => setDisabled(db, person.email, true), 'Your account was closed'],
  'signed out': [() => signOut(db, request), 'You were signed out meanwhile'],
  'left in an archived project': [() => setArchived(db, project, owner.id, true), 'is archived'],
};

describe('work that waited is not done for somebody who was meanwhile', () => {
  it.each(Object.entries(MEANWHILE))('%s', async (_, [happens, words]) => {
    const who = { project, user: person.id, session };
    const operations = operationsIn(db, who);
    const choices = { moves: [{ from: 'unit.stp', to: 'moved.stp' }] };
    const planned = (await operations.plan('move', choices)).result!;
    const task = await startTask(db, who, 'apply', { operation: 'move', choices, seen: planned.seen });
    await happens();
    await runTask(db, {} as Kernel, TASK_KINDS, task);
    expect(await taskState(db, who, task)).toMatchObject({
      state: 'failed',
      error: expect.stringContaining(words),
    });
    const paths = await db('files').where('project_id', project).pluck('path');
    expect(paths).toContain('unit.stp');
    expect(await db('change_sets').where('project_id', project)).toHaveLength(1);
  });

  it('nothing at all: then it is done', async () => {
    const who = { project, user: person.id, session };
    const operations = operationsIn(db, who);
    const choices = { moves: [{ from: 'unit.stp', to: 'moved.stp' }] };
    const planned = (await operations.plan('move', choices)).result!;
    expect((await operations.apply('move', choices, planned)).state).toBe('done');
  });
});

describe('who may do something to people and projects is looked up when it is done', () => {
  it('for owners who are none any more', async () => {
    await setRole(db, project, owner.id, person.id, 'owner');
    await setRole(db, project, person.id, owner.id, 'editor');
    const settings = { name: 'Other', description: '', searchFolders: [] };
    for (const late of [
      () => invite(db, project, owner.id, 'new@demo.invalid', 'owner'),
      () => setRole(db, project, owner.id, person.id, 'viewer'),
      () => removeMember(db, project, owner.id, person.id),
      () => setArchived(db, project, owner.id, true),
      () => updateProject(db, project, owner.id, settings),
    ])
      await expect(late()).rejects.toThrow('needs the role owner; you are editor');
    expect(await db('invitations').where('project_id', project)).toEqual([]);
    // Leaving needs no role.
    await removeMember(db, project, owner.id, owner.id);
  });

  it('and in an archived project nothing changes but people, and the archive itself', async () => {
    await setArchived(db, project, owner.id, true);
    const before = await db('projects').where('id', project).first('revision', 'name');
    const settings = { name: 'Other', description: '', searchFolders: ['x'] };
    await expect(updateProject(db, project, owner.id, settings)).rejects.toThrow('is archived');
    expect(await db('projects').where('id', project).first('revision', 'name')).toEqual(before);
    await invite(db, project, owner.id, 'new@demo.invalid', 'viewer');
    await setArchived(db, project, owner.id, false);
  });
});
