import { RouterContextProvider } from 'react-router';
import { afterAll, describe, expect, it } from 'vitest';
import { Refusal } from '#core/refusal';
import { closeDatabase } from '#server/db/connection';
import { putMember } from '#server/projects/projects';
import { testProject } from '#server/testing';
import { answerInProject, enterProject, forSignedIn, inProject, type Role } from './guard';
import { hashPassword, verifyPassword } from './passwords';
import { putUser, SignInError, signIn, signOut } from './sessions';

afterAll(closeDatabase);

const page = (cookie?: string, init: RequestInit = {}) =>
  new Request('http://stone.test/projects/x?a=b', {
    ...init,
    headers: { ...init.headers, ...(cookie ? { Cookie: cookie.split(';')[0]! } : {}) },
  });
/** A page in a project, and one for whoever is signed in. */
const requireProject = async (request: Request, project: string, needs: Role) => {
  const context = new RouterContextProvider();
  enterProject({ request, context }, project);
  return inProject(needs, async (access) => access)({ request, context });
};
const requireUser = (request: Request) => forSignedIn(async (signed) => signed)({ request });
const statusOf = async (work: Promise<unknown>) =>
  work.then(
    () => 200,
    (thrown: Response | { init?: { status?: number } }) =>
      thrown instanceof Response ? thrown.status : (thrown.init?.status ?? 0),
  );

describe('passwords', () => {
  it('are salted, slow to guess, and verified', async () => {
    const [a, b] = [await hashPassword('stone'), await hashPassword('stone')];
    expect(a).not.toBe(b);
    expect(a).not.toContain('stone');
    expect(await verifyPassword('stone', a)).toBe(true);
    expect(await verifyPassword('Stone', a)).toBe(false);
    expect(await verifyPassword('stone', 'plain$stone')).toBe(false);
  });
});

describe('signing in', () => {
  it('opens a session that ends with signing out', async () => {
    const { db, owner } = await testProject();
    const cookie = await signIn(db, page(), owner.email.toUpperCase(), 'test-password');
    expect(cookie).toMatch(/HttpOnly/);
    expect(cookie).toMatch(/SameSite=Lax/);
    expect((await requireUser(page(cookie))).user.id).toBe(owner.id);
    // The table alone opens no session.
    const token = decodeURIComponent(cookie.split(';')[0]!.split('=')[1]!);
    expect(
      (await db('sessions').where('user_id', owner.id)).some(({ token_hash }) => token.includes(token_hash)),
    ).toBe(false);
    await signOut(db, page(cookie));
    expect(await statusOf(requireUser(page(cookie)))).toBe(302);
  });

  it('refuses a wrong password in the same words as an unknown address, and slows down guessing', async () => {
    const { db, owner } = await testProject();
    await expect(signIn(db, page(), owner.email, 'wrong')).rejects.toThrow('do not go together');
    await expect(signIn(db, page(), 'nobody@demo.invalid', 'wrong')).rejects.toThrow('do not go together');
    for (let n = 0; n < 7; n++) await signIn(db, page(), owner.email, 'wrong').catch(() => {});
    await expect(signIn(db, page(), owner.email, 'test-password')).rejects.toThrow(SignInError);
    await expect(signIn(db, page(), owner.email, 'test-password')).rejects.toThrow('Too many');
  });
});

describe('the guard', () => {
  it('lets members in by their role and hides the project from everybody else', async () => {
    const { db, owner, project } = await testProject();
    const viewer = await putUser(db, {
      email: `v-${project}@demo.invalid`,
      name: 'V',
      password: 'v-password',
    });
    const stranger = await putUser(db, {
      email: `s-${project}@demo.invalid`,
      name: 'S',
      password: 's-password',
    });
    await putMember(db, project, viewer.id, 'viewer');
    const [asOwner, asViewer, asStranger] = [
      await signIn(db, page(), owner.email, 'test-password'),
      await signIn(db, page(), viewer.email, 'v-password'),
      await signIn(db, page(), stranger.email, 's-password'),
    ];
    expect(await statusOf(requireProject(page(asOwner), project, 'owner'))).toBe(200);
    expect(await statusOf(requireProject(page(asViewer), project, 'viewer'))).toBe(200);
    expect(await statusOf(requireProject(page(asViewer), project, 'editor'))).toBe(403);
    expect(await statusOf(requireProject(page(asStranger), project, 'viewer'))).toBe(404);
    expect(await statusOf(requireProject(page(asOwner), "x' or 1=1 --", 'viewer'))).toBe(404);
    expect(await statusOf(requireProject(page(), project, 'viewer'))).toBe(302);
  });

  it('refuses forms that come from another site', async () => {
    const { db, owner } = await testProject();
    const cookie = await signIn(db, page(), owner.email, 'test-password');
    const form = (origin: string) =>
      page(cookie, { method: 'POST', headers: { Origin: origin, Host: 'stone.test' } });
    expect(await statusOf(requireUser(form('http://evil.test')))).toBe(403);
    expect(await statusOf(requireUser(form('null')))).toBe(403);
    expect(await statusOf(requireUser(form('http://stone.test')))).toBe(200);
  });

  it('puts what goes wrong in words: a refusal as it is, a defect with its number', async () => {
    const { db, owner, project } = await testProject();
    const cookie = await signIn(db, page(), owner.email, 'test-password');
    const thrownBy = async (wrapped: typeof inProject, error: unknown) => {
      const context = new RouterContextProvider();
      enterProject({ request: page(cookie), context }, project);
      const fails = async () => Promise.reject(error);
      return wrapped('viewer', fails)({ request: page(cookie), context }).catch((thrown) => thrown);
    };
    const defect = {
      data: expect.stringMatching(/our fault.*the number [2-9A-Z]{6}\./),
      init: { status: 500 },
    };
    expect(await thrownBy(inProject, new TypeError('x is undefined'))).toMatchObject(defect);
    const refusal = { data: 'a.stp is not here.', init: { status: 409 } };
    expect(await thrownBy(inProject, new Refusal('a.stp is not here.'))).toMatchObject(refusal);
    const answer: Response = await thrownBy(answerInProject, new Refusal('a.stp is not here.'));
    expect([answer.status, await answer.text()]).toEqual([409, 'a.stp is not here.']);
    const left = new Response(null, { status: 304 });
    expect(await thrownBy(answerInProject, left)).toBe(left);
  });
});
