import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { keyOfValue } from '#core/long-value';
import { REGISTRY } from '#core/operations';
import { write } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
import { gearUnit } from '#core/testing/projects';
import { putUser, signIn } from '#server/auth/sessions';
import { putBlob } from '#server/db/blobs';
import { closeDatabase, type Database } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { startTask } from '#server/jobs/tasks';
import { keepValue } from '#server/projects/files/kept-values';
import { ProjectFileSet } from '#server/projects/files/project-files';
import { setArchived } from '#server/projects/life/life';
import { putMember } from '#server/projects/projects';
import { testProject } from '#server/testing';
import { type TestedRoute, testedRoutes } from '../testing/routes';

/** Pages that are for everybody, or only lead elsewhere. */
const OPEN = [
  'sign-in',
  'sign-out',
  'session',
  'home',
  'catalogue',
  'catalogue-item',
  'catalogue-picture',
  'catalogue-model',
  'catalogue-file',
];
/** Pages of whoever is signed in, which belong to no project. */
const OWN = ['projects', 'account'];
/** Actions that change nothing in the project but show what would change; tasks look at what is asked for. */
const ONLY_LOOKING = ['split-check', 'tasks', 'operations', 'preparation', 'kept', 'portrait', 'star'];
/** What only owners are given. */
const OWNERS = ['export'];

let routes: TestedRoute[];
let ask: (name: string, request: Request) => Promise<Response>;
let db: Database;
let project: string;
let owner: string;
const cookies: { [who: string]: string } = {};

beforeAll(async () => {
  process.env.STONETRAY_DEMO = '0';
  const tested = await testedRoutes();
  ask = tested.ask;
  routes = tested.routes.filter(({ name, loader, action }) => !OPEN.includes(name) && (loader ?? action));
  const made = await testProject(gearUnit());
  ({ db, project } = made);
  owner = made.owner.id;
  const request = new Request('http://stone.test/');
  for (const who of ['viewer', 'editor', 'stranger'] as const) {
    const user = await putUser(db, {
      email: `${who}-${project}@demo.invalid`,
      name: who,
      password: 'a-password',
    });
    if (who !== 'stranger') await putMember(db, project, user.id, who);
    cookies[who] = (await signIn(db, request, user.email, 'a-password')).split(';')[0]!;
  }
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

interface Sent {
  who?: string;
  method?: 'GET' | 'POST';
  json?: object;
  form?: { [name: string]: string };
  accept?: string;
}

function requestOf({ address }: TestedRoute, { who, method = 'GET', json, form, accept }: Sent): Request {
  const path = address
    .replace(':projectId', project)
    .replace(':sha256', 'ab'.repeat(32))
    .replace(':gltf', 'cd'.repeat(32));
  const headers: { [name: string]: string } = who ? { Cookie: cookies[who]! } : {};
  if (json) headers['Content-Type'] = 'application/json';
  if (accept) headers.Accept = accept;
  const body = json ? JSON.stringify(json) : new URLSearchParams(form ?? { anything: '1' });
  const asked = (json ?? {}) as { operation?: string; report?: string };
  const name = asked.operation ?? asked.report ?? 'move';
  return new Request(`http://stone.test${path}?root=unit.stp&path=unit.stp&step=start&for=${name}`, {
    method,
    headers,
    ...(method === 'POST' && { body }),
  });
}

const answerOf = async (name: string, sent: Sent) => {
  const answer = await ask(name, requestOf(routes.find((route) => route.name === name)!, sent));
  const text = await answer.text();
  return { status: answer.status, text, body: text.startsWith('{') ? JSON.parse(text) : null };
};
const statusOf = async ({ name }: TestedRoute, sent: Sent) => (await answerOf(name, sent)).status;

/** Streams until somebody leaves. */
const isEndless = ({ name }: TestedRoute) => name === 'events';

describe('every loader and action', () => {
  it('sends people who are not signed in to the sign-in page, or says so where no page is shown', async () => {
    for (const route of routes) {
      const { name, loader, action } = route;
      if (loader) expect([302, 401], `loader of ${name}`).toContain(await statusOf(route, {}));
      if (action)
        expect([302, 401], `action of ${name}`).toContain(await statusOf(route, { method: 'POST' }));
    }
    expect(await answerOf('tasks', {})).toMatchObject({
      status: 401,
      text: expect.stringContaining('Sign in again'),
    });
    expect((await answerOf('files', {})).status).toBe(302);
    expect((await answerOf('package', { accept: 'text/html,*/*' })).status).toBe(302);
  });

  it('does not tell strangers that the project exists', async () => {
    for (const route of routes) {
      const { name, loader, action } = route;
      if (OWN.includes(name) || isEndless(route)) continue;
      const who = 'stranger';
      if (loader) expect(await statusOf(route, { who }), `loader of ${name}`).toBe(404);
      if (action) expect(await statusOf(route, { who, method: 'POST' }), `action of ${name}`).toBe(404);
    }
    expect((await answerOf('tasks', { who: 'stranger' })).text).toContain('no such project');
  });

  it('lets a viewer look', async () => {
    for (const route of routes) {
      if (!route.loader || isEndless(route)) continue;
      if (OWNERS.includes(route.name)) {
        expect(await statusOf(route, { who: 'viewer' }), `loader of ${route.name}`).toBe(403);
        continue;
      }
      // What is not there is not found; nothing is refused, and nothing goes wrong.
      expect([200, 302, 404], `loader of ${route.name}`).toContain(await statusOf(route, { who: 'viewer' }));
    }
  });

  it('says that what an address names is not there, instead of showing something else', async () => {
    for (const name of ['structure', 'split', 'cut', 'sources', 'hand-off']) {
      const route = routes.find((one) => one.name === name)!;
      const asked = requestOf(route, { who: 'viewer' });
      const gone = new Request(
        `${asked.url.split('?')[0]}?root=gone.stp&file=gone.stp&source=gone.stp`,
        asked,
      );
      const answer = await ask(name, gone);
      expect([name, answer.status, await answer.text()]).toEqual([
        name,
        404,
        expect.stringContaining('gone.stp'),
      ]);
    }
  });

  it('lets a viewer change nothing', async () => {
    for (const route of routes) {
      if (route.action && !OWN.includes(route.name) && !ONLY_LOOKING.includes(route.name))
        expect(await statusOf(route, { who: 'viewer', method: 'POST' }), `action of ${route.name}`).toBe(403);
    }
    for (const [intent, status] of [
      ['begin', 200],
      ['stop', 403],
      ['again', 403],
    ] as const)
      expect(
        (await answerOf('preparation', { who: 'viewer', method: 'POST', form: { intent } })).status,
      ).toBe(status);
    expect(await db('change_sets').where('project_id', project)).toHaveLength(1);
  });

  it('gives out nothing of another project to somebody of this one', async () => {
    const elsewhere = await testProject(gearUnit());
    const secret = Buffer.from(`only in ${elsewhere.project}`);
    await elsewhere.fileSet.applyAs({
      summary: 'one',
      changes: [write('secret.stp', null, secret)],
      rewires: [],
      warnings: [],
    });
    const hash = sha256(secret);
    const gltf = await putBlob(db, Buffer.from(`mesh of ${elsewhere.project}`));
    await db('shapes').insert({
      sha256: hash,
      kernel: 'k',
      quality: 'q',
      state: 'done',
      bodies: '[]',
      gltf,
      exact: JSON.stringify({ 1: { faces: [] } }),
    });
    const selection = 'a selection of theirs';
    const keeper = { project: elsewhere.project, user: elsewhere.owner.id };
    await keepValue(db, keeper, keyOfValue(selection), selection);
    const task = await startTask(db, { project: elsewhere.project, user: elsewhere.owner.id }, 'plan', {
      operation: 'repair',
      choices: {},
    });
    await db('task_blobs').insert({ task_id: task, sha256: gltf });
    const packing = await startTask(
      db,
      { project: elsewhere.project, user: elsewhere.owner.id },
      'apply',
      {},
    );
    const paths = [
      ['content', `content/${hash}`],
      ['shapes', `shapes/${hash}/${gltf}`],
      ['exact', `shapes/${hash}/${gltf}/1`],
      ['pictures', `pictures/${gltf}`],
      ['kept', `kept?key=${keyOfValue(selection)}`],
      ['tasks', `tasks?task=${task}`],
      ['package', `package.zip?package=${packing}`],
    ] as const;
    const get = (name: string, path: string, of: string, cookie: string) =>
      ask(name, new Request(`http://stone.test/projects/${of}/${path}`, { headers: { Cookie: cookie } }));
    const request = new Request('http://stone.test/');
    const theirs = (await signIn(db, request, elsewhere.owner.email, 'test-password')).split(';')[0]!;
    for (const [name, path] of paths) {
      expect((await get(name, path, project, cookies.viewer!)).status, `${name} here`).toBe(404);
      // It is there for whoever it belongs to.
      expect([200, 409], `${name} there`).toContain(
        (await get(name, path, elsewhere.project, theirs)).status,
      );
    }
    // Nor may anybody of this project end their work.
    await ask(
      'tasks',
      new Request(`http://stone.test/projects/${project}/tasks`, {
        method: 'POST',
        headers: { Cookie: cookies.viewer!, 'Content-Type': 'application/json' },
        body: JSON.stringify({ cancel: task }),
      }),
    );
    expect(await db('tasks').where('id', task).first('state')).toEqual({ state: 'waiting' });
  });

  it('lets nobody end the work of another in the same project', async () => {
    const task = await startTask(db, { project, user: owner }, 'plan', { operation: 'repair', choices: {} });
    const cancel = { who: 'viewer', method: 'POST', json: { cancel: task } } as const;
    await answerOf('tasks', cancel);
    expect(await db('tasks').where('id', task).first('state')).toEqual({ state: 'waiting' });
  });

  it('lets editors change files, and not who may', async () => {
    const forms: [page: string, form: { [name: string]: string }][] = [
      ['people', { do: 'invite', email: 'x@demo.invalid', role: 'owner' }],
      ['settings', { do: 'archive' }],
      ['settings', { do: 'delete', name: 'Test project' }],
      ['settings', { do: 'project', name: 'Other', description: '', searchFolders: '' }],
    ];
    for (const [page, form] of forms)
      expect((await answerOf(page, { who: 'editor', method: 'POST', form })).status, form.do).toBe(403);
    expect((await answerOf('upload', { who: 'editor', method: 'POST' })).status).toBe(200);
  });

  it('hands out each of two files with one content under its own name', async () => {
    const content = Buffer.from(`the same ${crypto.randomUUID()}`);
    await new ProjectFileSet(db, project, owner).applyAs({
      summary: 'Two alike',
      changes: [write('alike/one.txt', null, content), write('alike/other.txt', null, content)],
      rewires: [],
      warnings: [],
    });
    const named = async (path: string) => {
      const address = `http://stone.test/projects/${project}/content/${sha256(content)}?path=${path}`;
      const answer = await ask('content', new Request(address, { headers: { Cookie: cookies.viewer! } }));
      return answer.headers.get('Content-Disposition');
    };
    expect(await named('alike/one.txt')).toContain('=one.txt');
    expect(await named('alike/other.txt')).toContain('=other.txt');
    expect(await named('elsewhere.txt')).toMatch(/one|other/);
  });

  it('takes nothing in, and offers nothing, while a project is archived', async () => {
    await setArchived(db, project, owner, true);
    try {
      expect((await answerOf('upload', { who: 'editor', method: 'POST' })).status).toBe(403);
      const publish = { intent: 'apply', operation: 'publish', choices: { file: 'unit.stp' }, seen: [] };
      expect((await answerOf('operations', { who: 'editor', method: 'POST', json: publish })).status).toBe(
        403,
      );
    } finally {
      await setArchived(db, project, owner, false);
    }
  });

  it('leads from the sign-in page to pages of its own only', async () => {
    const signIn = (next: string) => {
      const form = new URLSearchParams({ email: `viewer-${project}@demo.invalid`, password: 'a-password' });
      const address = `http://stone.test/sign-in?next=${encodeURIComponent(next)}`;
      return ask('sign-in', new Request(address, { method: 'POST', body: form }));
    };
    for (const outside of [
      '//elsewhere.example',
      '/\\elsewhere.example',
      'https://elsewhere.example/',
      '/\t/elsewhere.example',
      'javascript:alert(1)',
      '\\\\elsewhere.example',
    ])
      expect((await signIn(outside)).headers.get('Location'), outside).toBe('/projects');
    const inside = `/projects/${project}/files?sel=a%20b`;
    expect((await signIn(inside)).headers.get('Location')).toBe(inside);
  });

  it('lets a viewer see what operations would do and carry out only what changes nothing', async () => {
    const asked = (json: object) => answerOf('operations', { who: 'viewer', method: 'POST', json });
    const changes = () => db('change_sets').where('project_id', project).pluck('id');
    const before = await changes();
    const operations = REGISTRY.filter(({ kind }) => kind === 'operation');
    for (const { name, role } of operations)
      expect((await asked({ intent: 'apply', operation: name, choices: {}, seen: [] })).status, name).toBe(
        role === 'viewer' ? 200 : 403,
      );
    expect(operations.filter(({ role }) => role === 'viewer').map(({ name }) => name)).toEqual(['package']);
    // A plan that cannot be made is an answer with the reason, not a failed request; what is no operation is one.
    const unreadable = await asked({ intent: 'plan', operation: 'repair', choices: 1 });
    expect(unreadable).toMatchObject({ status: 200, body: { refused: expect.stringContaining('repair') } });
    const told = await asked({ intent: 'plan', operation: 'split', choices: { source: 'nothing.stp' } });
    expect(told.status).toBe(200);
    expect(Object.keys(told.body).every((key) => ['refused', 'task'].includes(key))).toBe(true);
    expect((await asked({ intent: 'apply', operation: 'no such', choices: {}, seen: [] })).status).toBe(400);
    expect(await changes()).toEqual(before);
  });

  it('reads no more of anybody than what they may choose takes', async () => {
    const moves = (count: number) => ({ moves: Array(count).fill({}) });
    const plan = (who: string, operation: string, choices: object) =>
      answerOf('operations', { who, method: 'POST', json: { intent: 'plan', operation, choices } });
    expect((await plan('viewer', 'move', moves(400_000))).status).toBe(413);
    expect((await plan('editor', 'move', moves(100_000))).status).toBe(200);
    expect((await plan('editor', 'stand-in', { file: 'x'.repeat(300_000) })).status).toBe(413);
  });
});
