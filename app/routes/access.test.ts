import { readFileSync } from 'node:fs';
import { readdir } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { OPERATIONS } from '#core/operations';
import { gearUnit } from '#core/testing/projects';
import { putUser, signIn } from '#server/auth/sessions';
import { closeDatabase, type Database } from '#server/db/connection';
import { putMember } from '#server/projects/projects';
import { testProject } from '#server/testing';

type Handler = (args: {
  request: Request;
  params: { [name: string]: string };
  context: unknown;
}) => Promise<unknown>;

/** Pages that are for everybody, or only lead elsewhere. */
/** Routes without data of a project. */
const OPEN = new Set(['sign-in', 'sign-out', 'home', 'project-home', 'project-view']);
const routes: { name: string; loader?: Handler; action?: Handler }[] = [];
let db: Database;
let project: string;
const cookies: { [who: string]: string } = {};

beforeAll(async () => {
  process.env.STONETRAY_DEMO = '0';
  for (const file of await readdir(import.meta.dirname)) {
    const name = file.replace(/\.tsx?$/, '');
    if (file.includes('.test.') || OPEN.has(name)) continue;
    const module = (await import(path.join(import.meta.dirname, file))) as {
      loader?: Handler;
      action?: Handler;
    };
    routes.push({ name, loader: module.loader, action: module.action });
  }
  const made = await testProject(gearUnit());
  ({ db, project } = made);
  const request = new Request('http://stone.test/');
  for (const who of ['viewer', 'stranger'] as const) {
    const user = await putUser(db, {
      email: `${who}-${project}@demo.invalid`,
      name: who,
      password: 'a-password',
    });
    if (who === 'viewer') await putMember(db, project, user.id, 'viewer');
    cookies[who] = (await signIn(db, request, user.email, 'a-password')).split(';')[0]!;
  }
});
afterAll(closeDatabase);

async function statusOf(handler: Handler, method: string, who?: string): Promise<number> {
  const body = method === 'POST' ? new URLSearchParams({ anything: '1' }) : undefined;
  const request = new Request(
    `http://stone.test/projects/${project}/x?root=unit.stp&path=unit.stp&step=start`,
    { method, body, headers: who ? { Cookie: cookies[who]! } : {} },
  );
  try {
    const answer = await handler({
      request,
      params: { projectId: project, sha256: 'ab'.repeat(32) },
      context: {},
    });
    return answer instanceof Response
      ? answer.status
      : ((answer as { init?: { status?: number } })?.init?.status ?? 200);
  } catch (thrown) {
    if (thrown instanceof Response) return thrown.status;
    const status = (thrown as { init?: { status?: number } }).init?.status;
    if (status === undefined) throw thrown;
    return status;
  }
}

describe('every loader and action', () => {
  it('is looked at by this test', async () => {
    const declared = [
      ...readFileSync(path.join(import.meta.dirname, '../routes.ts'), 'utf8').matchAll(
        /routes\/([\w-]+)\.tsx?/g,
      ),
    ].map(([, name]) => name!);
    expect([...routes.map(({ name }) => name), ...OPEN].sort()).toEqual([...new Set(declared)].sort());
    for (const { name, loader, action } of routes) expect(loader ?? action, name).toBeDefined();
  });

  it('sends people who are not signed in to the sign-in page', async () => {
    for (const { name, loader, action } of routes) {
      if (loader) expect(await statusOf(loader, 'GET'), `loader of ${name}`).toBe(302);
      if (action) expect(await statusOf(action, 'POST'), `action of ${name}`).toBe(302);
    }
  });

  it('does not tell strangers that the project exists', async () => {
    for (const { name, loader, action } of routes) {
      if (name === 'projects') continue;
      if (loader) expect(await statusOf(loader, 'GET', 'stranger'), `loader of ${name}`).toBe(404);
      if (action) expect(await statusOf(action, 'POST', 'stranger'), `action of ${name}`).toBe(404);
    }
  });

  /** Actions that change nothing in the project but show what would change; tasks look at what is asked for. */
  const ONLY_LOOKING = ['split-check', 'tasks', 'operations'];

  it('lets a viewer change nothing', async () => {
    for (const { name, action } of routes) {
      if (action && name !== 'projects' && !ONLY_LOOKING.includes(name))
        expect(await statusOf(action, 'POST', 'viewer'), `action of ${name}`).toBe(403);
    }
    expect(await db('change_sets').where('project_id', project)).toHaveLength(1);
  });

  it('lets a viewer see what operations would do and carry out only what changes nothing', async () => {
    const { action } = routes.find(({ name }) => name === 'operations')!;
    const ask = async (who: string, sent: object) => {
      const request = new Request(`http://stone.test/projects/${project}/operations`, {
        method: 'POST',
        body: JSON.stringify(sent),
        headers: { Cookie: cookies[who]!, 'Content-Type': 'application/json' },
      });
      try {
        const answer = (await action!({ request, params: { projectId: project }, context: {} })) as Response;
        return { status: answer.status, body: await answer.json() };
      } catch (thrown) {
        return { status: (thrown as { init: { status: number } }).init.status, body: {} };
      }
    };
    for (const { name, role } of OPERATIONS)
      expect(
        (await ask('viewer', { intent: 'apply', operation: name, choices: {}, seen: [] })).status,
        name,
      ).toBe(role === 'viewer' ? 200 : 403);
    expect(OPERATIONS.filter(({ role }) => role === 'viewer').map(({ name }) => name)).toEqual(['package']);
    // A plan that cannot be made is an answer with the reason, not a failed request; what is no operation is one.
    const unreadable = await ask('viewer', { intent: 'plan', operation: 'repair', choices: 1 });
    expect(unreadable).toEqual({ status: 200, body: { refused: expect.stringContaining('repair') } });
    const slow = { intent: 'plan', operation: 'split', choices: { source: 'nothing.stp' } };
    const told = await ask('viewer', slow);
    expect(told.status).toBe(200);
    expect(Object.keys(told.body).every((key) => ['refused', 'task'].includes(key))).toBe(true);
    const unknown = { intent: 'apply', operation: 'no such', choices: {}, seen: [] };
    expect((await ask('viewer', unknown)).status).toBe(400);
    expect(await db('change_sets').where('project_id', project)).toHaveLength(1);
  });
});
