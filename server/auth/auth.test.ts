import { RouterContextProvider } from 'react-router';
import { afterAll, describe, expect, it } from 'vitest';
import { Refusal } from '#core/refusal';
import { closeDatabase } from '#server/db/connection';
import { putMember } from '#server/projects/projects';
import { testProject } from '#server/testing';
import { changePassword, endSession, sessionsOf } from './account';
import { waitAfter } from './attempts';
import { answerInProject, enterProject, forSignedIn, inProject, type Role } from './guard';
import { keepPreferences, PREFERENCES, preferencesOf } from './kept-preferences';
import { hashPassword, isOutdated, verifyPassword } from './passwords';
import { USUAL } from './preferences';
import { putUser, signIn, signOut } from './sessions';

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

  it('opens a session that ends by itself', async () => {
    const { db, owner } = await testProject();
    const cookie = await signIn(db, page(), owner.email, 'test-password');
    expect(await statusOf(requireUser(page(cookie)))).toBe(200);
    const expires = (when: string) =>
      db('sessions')
        .where('user_id', owner.id)
        .update({ expires_at: db.raw(`now() ${when}`) });
    await expires(`+ interval '1 minute'`);
    expect(await statusOf(requireUser(page(cookie)))).toBe(200);
    await expires(`- interval '1 second'`);
    expect(await statusOf(requireUser(page(cookie)))).toBe(302);
  });

  it('refuses a wrong password in the same words as an unknown address; guessing waits, and nobody is locked out', async () => {
    const { db, owner } = await testProject();
    await expect(signIn(db, page(), owner.email, 'wrong')).rejects.toThrow('do not go together');
    await expect(signIn(db, page(), 'nobody@demo.invalid', 'wrong')).rejects.toThrow('do not go together');
    for (let n = 0; n < 6; n++) await signIn(db, page(), owner.email, 'wrong').catch(() => {});
    const began = performance.now();
    expect(await signIn(db, page(), owner.email, 'test-password')).toMatch(/HttpOnly/);
    expect(performance.now() - began).toBeGreaterThan(waitAfter(7, 5) - 50);
    // Who had the right password begins anew: nothing is left that would have to be waited for.
    expect(await db('sign_in_attempts').where('email', owner.email)).toEqual([]);
  });

  it('looks at no more passwords because many come at once', async () => {
    const { db, owner } = await testProject();
    const began = performance.now();
    const guesses = await Promise.allSettled(
      Array.from({ length: 60 }, (_, n) => signIn(db, page(), owner.email, `guess ${n}`)),
    );
    const words = guesses.map((one) => (one.status === 'rejected' ? String(one.reason.message) : ''));
    const tried = words.filter((one) => one.includes('do not go together')).length;
    expect(tried).toBeLessThanOrEqual(10);
    expect(words.filter((one) => one.includes('Try again in a moment'))).toHaveLength(60 - tried);
    expect(performance.now() - began).toBeGreaterThan(1000);
  });

  it('waits longer with each attempt, up to a limit', () => {
    expect([0, 4, 5, 6, 8, 100].map((attempts) => waitAfter(attempts, 5))).toEqual([
      0, 0, 250, 500, 2000, 8000,
    ]);
  });

  it('ends all sessions of whoever gets a new password, and takes old hashes along to today’s cost', async () => {
    const { db, owner } = await testProject();
    const cookie = await signIn(db, page(), owner.email, 'test-password');
    await putUser(db, { ...owner, password: 'another-password' });
    expect(await statusOf(requireUser(page(cookie)))).toBe(302);
    const weak = (await hashPassword('weak-password')).replace(/^scrypt\$\d+/, 'scrypt$1024');
    expect(isOutdated(weak)).toBe(true);
    expect(isOutdated(await hashPassword('x'))).toBe(false);
  });
});

describe('an account', () => {
  it('lists its sessions, ends each, and all others with a new password', async () => {
    const { db, owner } = await testProject();
    const agent = { headers: { 'User-Agent': 'Test/1' } };
    const cookies = [];
    for (let n = 0; n < 4; n++)
      cookies.push(await signIn(db, page(undefined, agent), owner.email, 'test-password'));
    const [own, second, third, fourth] = cookies as [string, string, string, string];
    const listed = async () => sessionsOf(db, owner, page(own));
    expect((await listed()).map(({ isThis, browser }) => `${isThis} ${browser}`).sort()).toEqual([
      ...Array(3).fill('false Test/1'),
      'true Test/1',
    ]);
    const [other] = (await sessionsOf(db, owner, page(second))).filter(({ isThis }) => isThis);
    const stranger = await putUser(db, {
      email: `x-${owner.id}@demo.invalid`,
      name: 'X',
      password: 'x-password',
    });
    await expect(endSession(db, stranger, other!.id)).rejects.toThrow(Refusal);
    await endSession(db, owner, other!.id);
    expect(await statusOf(requireUser(page(second)))).toBe(302);
    expect(await statusOf(requireUser(page(third)))).toBe(200);
    const change = (before: string) =>
      changePassword(db, owner, page(own), { before, after: 'a-new-password' });
    await expect(change('wrong')).rejects.toThrow('is another one');
    expect(await statusOf(requireUser(page(fourth)))).toBe(200);
    await change('test-password');
    expect(await statusOf(requireUser(page(fourth)))).toBe(302);
    expect((await listed()).map(({ isThis }) => isThis)).toEqual([true]);
    await signIn(db, page(), owner.email, 'a-new-password');
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

describe('how somebody reads numbers and times', () => {
  it('is kept with the person, not with the browser; as is usual until then, and for strangers', async () => {
    const { db, owner } = await testProject();
    const [one, other] = [
      await signIn(db, page(), owner.email, 'test-password'),
      await signIn(db, page(), owner.email, 'test-password'),
    ];
    expect(await preferencesOf(db, page(one))).toEqual(USUAL);
    const chosen = { length: 'in', mass: 'lb', decimal: ',', zone: 'Europe/Zurich' } as const;
    await keepPreferences(db, owner, chosen);
    expect(await preferencesOf(db, page(other))).toEqual(chosen);
    expect(await preferencesOf(db, page())).toEqual(USUAL);
    await db('users')
      .where('id', owner.id)
      .update({ preferences: JSON.stringify({ length: 'cubit' }) });
    expect(await preferencesOf(db, page(one))).toEqual(USUAL);
  });

  it('is refused where there is no such unit or zone', () => {
    expect(PREFERENCES.parse({ zone: '' })).toEqual(USUAL);
    expect(PREFERENCES.safeParse({ zone: 'Middle/Earth' }).success).toBe(false);
    expect(PREFERENCES.safeParse({ mass: 'stone' }).success).toBe(false);
  });
});
