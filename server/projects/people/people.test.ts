import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { write } from '#core/project/change/change-set';
import { putUser, signIn, type User, userOf } from '#server/auth/sessions';
import { closeDatabase, type Database } from '#server/db/connection';
import { startUpload } from '#server/projects/files/uploads';
import { putMember, readLog, versionsOf } from '#server/projects/projects';
import { testProject } from '#server/testing';
import { listMembers } from './members';
import { deletePerson, handOver, listPeople, setDisabled } from './people';

let db: Database;
let project: string;
let owner: User;
let made: Awaited<ReturnType<typeof testProject>>;
beforeAll(async () => {
  made = await testProject();
  ({ db, project, owner } = made);
});
afterAll(closeDatabase);

const enter = async (email: string) => {
  const cookie = await signIn(db, new Request('http://stone.test/'), email, 'test-password');
  return new Request('http://stone.test/', { headers: { Cookie: cookie.split(';')[0]! } });
};

describe('whoever runs the server', () => {
  it('disables somebody, who is signed out and cannot sign in, and lets them in again', async () => {
    const request = await enter(owner.email);
    expect(await userOf(db, request)).toMatchObject({ id: owner.id });
    await setDisabled(db, owner.email.toUpperCase(), true);
    expect(await userOf(db, request)).toBeUndefined();
    await expect(enter(owner.email)).rejects.toThrow('do not go together');
    expect((await listPeople(db)).find(({ email }) => email === owner.email)).toEqual({
      name: 'Owner',
      email: owner.email,
      projects: 1,
      isDisabled: true,
    });
    await setDisabled(db, owner.email, false);
    // A session that was opened in the very moment is none either.
    const late = await enter(owner.email);
    await db('users').where('id', owner.id).update({ disabled: db.fn.now() });
    expect(await userOf(db, late)).toBeUndefined();
    await setDisabled(db, owner.email, false);
    expect(await userOf(db, await enter(owner.email))).toMatchObject({ id: owner.id });
    await expect(setDisabled(db, 'nobody@demo.invalid', true)).rejects.toThrow('Nobody here');
  });

  it('deletes somebody who is no project’s only owner; what they did stays, without their name', async () => {
    const change = {
      summary: 'One file',
      changes: [write('one.txt', null, Buffer.from('1'))],
      rewires: [],
      warnings: [],
    };
    await made.fileSet.applyAs(change);
    await startUpload(db, { project, user: owner.id });
    const next = await putUser(db, {
      email: `next-${project}@demo.invalid`,
      name: 'Next',
      password: 'test-password',
    });
    await expect(deletePerson(db, owner.email)).rejects.toThrow(
      'only owner of Test project. Hand over first',
    );
    await putMember(db, project, next.id, 'viewer');
    expect(await handOver(db, owner.email, next.email)).toEqual(['Test project']);
    await deletePerson(db, owner.email);
    expect((await listMembers(db, project)).map(({ name, role }) => [name, role])).toEqual([
      ['Next', 'owner'],
    ]);
    expect((await versionsOf(db, project, 'one.txt')).map(({ who, note }) => [who, note])).toEqual([
      ['Somebody who is gone', 'One file'],
    ]);
    expect((await readLog(db, project)).at(-1)).toMatchObject({
      who: 'Somebody who is gone',
      summary: 'Created the project',
    });
    await expect(enter(owner.email)).rejects.toThrow('do not go together');
  });
});
