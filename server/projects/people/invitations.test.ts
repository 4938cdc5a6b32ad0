import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { putUser, type User } from '#server/auth/sessions';
import { closeDatabase, type Database } from '#server/db/connection';
import { readLog } from '#server/projects/projects';
import { testProject } from '#server/testing';
import { answerInvitation, invitationsFor, invitationsOf, invite, takeBack } from './invitations';
import { listMembers } from './members';

let db: Database;
let project: string;
let owner: User;
let guest: User;
beforeAll(async () => {
  ({ db, project, owner } = await testProject());
  guest = await putUser(db, {
    email: `guest-${project}@demo.invalid`,
    name: 'Guest',
    password: 'a-password',
  });
});
afterAll(closeDatabase);

const roles = async () => (await listMembers(db, project)).map(({ name, role }) => `${name} ${role}`);

describe('an invitation', () => {
  it('makes nobody a member who has not accepted, and a member with its role who has', async () => {
    await invite(db, project, owner.id, guest.email.toUpperCase(), 'viewer');
    await invite(db, project, owner.id, guest.email, 'editor');
    expect(await roles()).toEqual(['Owner owner']);
    const [mine, ...more] = await invitationsFor(db, guest);
    expect([mine, more]).toEqual([
      { id: mine!.id, project: 'Test project', by: 'Owner', role: 'editor' },
      [],
    ]);
    expect(await answerInvitation(db, guest, mine!.id, true)).toBe(project);
    expect(await roles()).toEqual(['Guest editor', 'Owner owner']);
    expect(await invitationsOf(db, project)).toEqual([]);
    await expect(answerInvitation(db, guest, mine!.id, true)).rejects.toThrow('no longer open');
    await expect(invite(db, project, owner.id, guest.email, 'viewer')).rejects.toThrow('member already');
    expect((await readLog(db, project)).map(({ who, summary }) => `${who}: ${summary}`).slice(0, 2)).toEqual([
      'Guest: Joined as editor',
      `Owner: Invited ${guest.email} as editor`,
    ]);
  });

  it('says the same whether anybody has the address, and waits for whoever gets it', async () => {
    const email = `later-${project}@demo.invalid`;
    expect(await invite(db, project, owner.id, email, 'viewer')).toBeUndefined();
    expect((await invitationsOf(db, project)).map(({ email: to, role }) => [to, role])).toEqual([
      [email, 'viewer'],
    ]);
    const later = await putUser(db, { email, name: 'Later', password: 'a-password' });
    const [mine] = await invitationsFor(db, later);
    await answerInvitation(db, later, mine!.id, false);
    expect(await invitationsFor(db, later)).toEqual([]);
    expect(await roles()).not.toContain('Later viewer');
  });

  it('is another project’s to take back', async () => {
    const elsewhere = await testProject();
    const email = `mine-${project}@demo.invalid`;
    await invite(db, project, owner.id, email, 'viewer');
    const { id } = (await invitationsOf(db, project)).find((one) => one.email === email)!;
    await expect(takeBack(db, elsewhere.project, elsewhere.owner.id, id)).rejects.toThrow('no longer open');
    expect((await invitationsOf(db, project)).some((one) => one.email === email)).toBe(true);
    await takeBack(db, project, owner.id, id);
  });

  it('is nobody else’s to answer, and nobody’s when it was taken back or has lapsed', async () => {
    const email = `other-${project}@demo.invalid`;
    const other = await putUser(db, { email, name: 'Other', password: 'a-password' });
    await invite(db, project, owner.id, email, 'owner');
    const { id } = (await invitationsOf(db, project))[0]!;
    await expect(answerInvitation(db, guest, id, true)).rejects.toThrow('no longer open');
    await db('invitations')
      .where('id', id)
      .update({ time: db.raw(`now() - interval '31 days'`) });
    expect(await invitationsFor(db, other)).toEqual([]);
    await expect(answerInvitation(db, other, id, true)).rejects.toThrow('no longer open');
    await invite(db, project, owner.id, email, 'viewer');
    await takeBack(db, project, owner.id, (await invitationsOf(db, project))[0]!.id);
    expect(await invitationsFor(db, other)).toEqual([]);
    await expect(takeBack(db, project, owner.id, id)).rejects.toThrow('no longer open');
    expect(await roles()).toEqual(['Guest editor', 'Owner owner']);
  });
});
