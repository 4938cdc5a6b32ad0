import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { putUser, signIn, signOut, type User } from '#server/auth/sessions';
import { closeDatabase, type Database } from '#server/db/connection';
import { announce } from '#server/events/events';
import { invitationsOf, invite, takeBack } from '#server/projects/people/invitations';
import { removeMember } from '#server/projects/people/members';
import { createProject, putMember } from '#server/projects/projects';
import { testProject } from '#server/testing';
import { loader } from './events';

let db: Database;
let project: string;
let owner: User;
beforeAll(async () => {
  ({ db, project, owner } = await testProject());
});
afterAll(closeDatabase);

/** An event stream, as a page opens it. */
async function streamOf(cookie: string) {
  const request = new Request('http://stone.test/events', { headers: { Cookie: cookie.split(';')[0]! } });
  const response = await (loader as unknown as (args: { request: Request }) => Promise<Response>)({
    request,
  });
  const reader = response.body!.getReader();
  const heard = { text: '', hasEnded: false };
  void (async () => {
    for (;;) {
      const { value, done } = await reader.read();
      if (done) break;
      heard.text += Buffer.from(value).toString();
    }
    heard.hasEnded = true;
  })();
  await expect.poll(() => heard.text).toContain('retry');
  return { heard, cancel: () => reader.cancel() };
}

const person = async (name: string) => {
  const user = await putUser(db, { email: `${name}-${project}@demo.invalid`, name, password: 'a-password' });
  await putMember(db, project, user.id, 'viewer');
  const cookie = () => signIn(db, new Request('http://stone.test/'), user.email, 'a-password');
  return { user, cookie };
};
const changed = () => announce(db, { project, type: 'changed' });

describe('an event stream', () => {
  it('is closed at once when its session ends', async () => {
    const { cookie } = await person('ends');
    const own = await cookie();
    const [ending, other] = [await streamOf(own), await streamOf(await cookie())];
    await signOut(db, new Request('http://stone.test/', { headers: { Cookie: own.split(';')[0]! } }));
    await expect.poll(() => ending.heard.hasEnded).toBe(true);
    await changed();
    await expect.poll(() => other.heard.text).toContain('changed');
    expect(other.heard.hasEnded).toBe(false);
    expect(ending.heard.text).not.toContain('changed');
    await other.cancel();
  });

  it('says nothing more of a project to whoever was removed from it', async () => {
    const { user, cookie } = await person('removed');
    const stream = await streamOf(await cookie());
    await changed();
    await expect.poll(() => stream.heard.text).toContain('changed');
    const before = stream.heard.text;
    await removeMember(db, project, owner.id, user.id);
    await changed();
    await new Promise((resolve) => setTimeout(resolve, 200));
    expect(stream.heard.text.replace(before, '')).toBe('data: {"type":"person"}\n\n');
    await stream.cancel();
  });

  it('tells whoever is invited, and nobody else', async () => {
    const [invited, other] = [await person('invited'), await person('not-invited')];
    const [one, two] = [await streamOf(await invited.cookie()), await streamOf(await other.cookie())];
    const next = await createProject(db, owner.id, 'Invited to');
    await invite(db, next, owner.id, invited.user.email.toUpperCase(), 'viewer');
    await expect.poll(() => one.heard.text).toContain('"type":"person"');
    const [invitation] = await invitationsOf(db, next);
    await takeBack(db, next, owner.id, invitation!.id);
    await expect.poll(() => one.heard.text.match(/person/g)).toHaveLength(2);
    expect(two.heard.text).not.toContain('person');
    await one.cancel();
    await two.cancel();
  });

  it('makes room for a newer one when somebody has too many', async () => {
    const { cookie } = await person('many');
    const own = await cookie();
    const streams: Awaited<ReturnType<typeof streamOf>>[] = [];
    for (let n = 0; n < 13; n++) streams.push(await streamOf(own));
    await expect
      .poll(() => streams.map(({ heard }) => heard.hasEnded))
      .toEqual([true, ...Array(12).fill(false)]);
    for (const { cancel } of streams) await cancel();
  });
});
