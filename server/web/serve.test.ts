import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import type { AddressInfo, Socket } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { brotliCompressSync } from 'node:zlib';
import type { RequestHandler } from 'express';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { sayWho } from '#server/asked';
import { closeDatabase, connect, database } from '#server/db/connection';
import { migrate } from '#server/db/migrate';
import { sayAlive, sayGone } from '#server/db/workers';
import { stopJobs, work } from '#server/jobs/queue';
import { log } from '#server/log';
import { PART } from '#server/projects/files/uploads';
import { bodyLimit } from './limits';
import { WebServer } from './serve';

const client = mkdtempSync(path.join(os.tmpdir(), 'stonetray-web-'));
const servers: WebServer[] = [];
beforeAll(async () => {
  writeFileSync(path.join(client, 'sign.svg'), '<svg xmlns="http://www.w3.org/2000/svg"/>');
  mkdirSync(path.join(client, 'assets'));
  writeFileSync(path.join(client, 'assets/page-1.js'), 'export {};');
  writeFileSync(path.join(client, 'assets/page-1.js.br'), brotliCompressSync('export {};'));
  await migrate(database());
  await work('portrait', {}, async () => {});
});
afterEach(async () => {
  for (const web of servers.splice(0)) await web.end(0);
});
afterAll(async () => {
  rmSync(client, { recursive: true });
  await stopJobs();
  await closeDatabase();
});

/** Answers with the headers that it is given, and how long the body was; or never, or for ever. */
const echo: RequestHandler = (request, response) => {
  if (request.path === '/slow') return;
  if (request.path === '/projects/p1/files') sayWho({ user: 'u1', project: 'p1' });
  if (request.path === '/events') {
    response.type('text/event-stream').write('data: here\n\n');
    return;
  }
  let length = 0;
  request.on('data', (chunk: Buffer) => {
    length += chunk.length;
  });
  request.on('end', () => response.json({ length, headers: request.headers }));
};

async function started(proxies: string[] = [], db = database(), metricsToken?: string) {
  const web = new WebServer(echo, db, { proxies, client, metricsToken });
  servers.push(web);
  await web.listen(0, '127.0.0.1');
  return { web, address: `http://127.0.0.1:${(web.server.address() as AddressInfo).port}` };
}

/** Sends a body without saying how long it is, until it is refused. @returns the status, 0 if cut off before it came */
function pour(address: string, type: string, most: number): Promise<number> {
  return new Promise((resolve) => {
    const request = http.request(address, { method: 'POST', headers: { 'Content-Type': type } });
    let [sent, status] = [0, 0];
    const end = () => resolve(status);
    request.on('response', (response) => {
      status = response.statusCode!;
      response.resume();
      response.on('close', end);
    });
    request.on('error', end);
    const more = () => {
      while (sent < most && !request.destroyed) {
        sent += 16_384;
        if (!request.write(Buffer.alloc(16_384, 97))) {
          request.once('drain', more);
          return;
        }
      }
      request.end();
    };
    more();
  });
}

describe('the web process', () => {
  it('says whether it lives and is ready, and what is measured to its own machine only', async () => {
    const { address } = await started();
    expect(await (await fetch(`${address}/health`)).text()).toBe('alive\n');
    expect((await fetch(`${address}/ready`)).status).toBe(200);
    await fetch(`${address}/page`);
    const metrics = await (await fetch(`${address}/metrics`)).text();
    expect(metrics).toMatch(/stonetray_requests_total\{method="GET",status="200"\} 1/);
    expect(metrics).toContain('stonetray_database_connections');
    // Through a proxy nobody is on the machine itself.
    const behind = await started(['127.0.0.1']);
    const outside = await fetch(`${behind.address}/metrics`, {
      headers: { 'X-Forwarded-For': '203.0.113.7' },
    });
    expect(await outside.text()).not.toContain('stonetray_requests_total');
    // Nor through one that nobody has named, whose word is not taken for anything else.
    for (const name of ['X-Forwarded-For', 'Forwarded', 'X-Forwarded-Host']) {
      const unnamed = await fetch(`${address}/metrics`, { headers: { [name]: 'for=203.0.113.7' } });
      expect(await unnamed.text(), name).not.toContain('stonetray_requests_total');
    }
    const guarded = await started([], database(), 'a long token');
    const withToken = (token: string) =>
      fetch(`${guarded.address}/metrics`, { headers: { Authorization: `Bearer ${token}` } });
    expect((await fetch(`${guarded.address}/metrics`)).status).toBe(401);
    expect((await withToken('another')).status).toBe(401);
    expect(await (await withToken('a long token')).text()).toContain('stonetray_requests_total');
    const lost = connect('postgres://nobody:x@127.0.0.1:1/none');
    const { address: blind } = await started([], lost);
    expect((await fetch(`${blind}/ready`)).status).toBe(503);
    expect((await fetch(`${blind}/health`)).status).toBe(200);
    await lost.destroy();
  });

  it('hands out scripts as they were pressed while building, to be kept, and says where there is none', async () => {
    const { address } = await started();
    const script = await fetch(`${address}/assets/page-1.js`, { headers: { 'Accept-Encoding': 'br' } });
    expect(script.headers.get('Content-Encoding')).toBe('br');
    expect(script.headers.get('Cache-Control')).toContain('immutable');
    expect(script.headers.get('Content-Type')).toContain('javascript');
    expect(await script.text()).toBe('export {};');
    const plain = await fetch(`${address}/assets/page-1.js`, { headers: { 'Accept-Encoding': 'identity' } });
    expect([plain.headers.get('Content-Encoding'), await plain.text()]).toEqual([null, 'export {};']);
    for (const away of ['assets/none.js', 'assets/..%2f..%2fetc%2fpasswd', 'assets/%2e%2e/%2e%2e/etc/passwd'])
      expect((await fetch(`${address}/${away}`)).headers.get('Content-Type'), away).toContain('json');
  });

  it('says when no job worker answers', async () => {
    const { address } = await started();
    const worker = crypto.randomUUID();
    await database()('workers').delete();
    expect(await (await fetch(`${address}/ready`)).text()).toContain('No job worker has answered');
    expect(await (await fetch(`${address}/metrics`)).text()).toMatch(/stonetray_workers 0/);
    await sayAlive(database(), worker);
    expect(await (await fetch(`${address}/ready`)).text()).toBe('ready\n');
    expect(await (await fetch(`${address}/metrics`)).text()).toMatch(/stonetray_workers 1/);
    await sayGone(database(), worker);
  });

  it('answers in words what no address can be made of', async () => {
    const { address } = await started();
    const { hostname, port } = new URL(address);
    const status = await new Promise((resolve) => {
      const headers = { Host: 'a b' };
      const request = http.request({ hostname, port, path: '/page', headers }, (answer) => {
        answer.resume();
        resolve(answer.statusCode);
      });
      request.end();
    });
    expect(status).toBe(400);
  });

  it('logs each request with its number, person and project, and nothing secret', async () => {
    const lines = vi.spyOn(log, 'info').mockImplementation(() => {});
    const { address } = await started();
    for (const path of [
      '/projects/p1/files?q=secret',
      '/catalogue/secret/stl',
      '/assets/none.js',
      '/sign.svg',
    ])
      await (await fetch(address + path, { headers: { Cookie: 'a=secret' } })).text();
    await fetch(`${address}/slow`, { signal: AbortSignal.timeout(50) }).catch(() => {});
    await expect.poll(() => lines.mock.calls.length).toBe(4);
    const logged = lines.mock.calls.map(([facts]) => facts as { [name: string]: unknown });
    expect(
      logged.map(({ method, path, status, user, project, cut }) => [
        method,
        path,
        status,
        user,
        project,
        cut,
      ]),
    ).toEqual([
      ['GET', '/projects/p1/files', 200, 'u1', 'p1', undefined],
      ['GET', '/catalogue/…/stl', 200, undefined, undefined, undefined],
      ['GET', '/sign.svg', 200, undefined, undefined, undefined],
      ['GET', '/slow', 200, undefined, undefined, true],
    ]);
    for (const { id, ms } of logged)
      expect([id, ms]).toEqual([expect.stringMatching(/^[0-9a-f-]{36}$/), expect.any(Number)]);
    expect(JSON.stringify(lines.mock.calls)).not.toContain('secret');
    lines.mockRestore();
  });

  it('lets nothing be guessed or kept, and takes no word on the visitor but from its proxies', async () => {
    const forwarded = {
      'X-Forwarded-Host': 'elsewhere.example',
      'X-Forwarded-Proto': 'https',
      Forwarded: 'host=x',
    };
    const { address } = await started();
    const page = await fetch(`${address}/page`, { headers: forwarded });
    expect([page.headers.get('X-Content-Type-Options'), page.headers.get('Cache-Control')]).toEqual([
      'nosniff',
      'no-store',
    ]);
    expect(page.headers.get('X-Powered-By')).toBeNull();
    const { headers } = (await page.json()) as { headers: { [name: string]: string } };
    expect(Object.keys(headers).filter((name) => name.includes('forwarded'))).toEqual([]);
    const { address: behind } = await started(['127.0.0.1']);
    const told = (await (await fetch(`${behind}/page`, { headers: forwarded })).json()) as typeof page & {
      headers: { [name: string]: string };
    };
    expect(told.headers['x-forwarded-host' as never]).toBe('elsewhere.example');
    const file = await fetch(`${address}/sign.svg`);
    expect(file.headers.get('Content-Type')).toMatch(/^image\/svg/);
  });

  it.each([
    ['a form', '/page', 'application/x-www-form-urlencoded'],
    ['JSON', '/page', 'application/json'],
    ['what says nothing of itself', '/page', ''],
  ])('reads no more of %s than it may have', async (_, at, type) => {
    const { web, address } = await started();
    const limit = bodyLimit(at, type);
    const fine = await fetch(address + at, {
      method: 'POST',
      body: 'a'.repeat(limit),
      headers: { 'Content-Type': type },
    });
    expect(await fine.json()).toMatchObject({ length: limit });
    const said = await fetch(address + at, {
      method: 'POST',
      body: 'a'.repeat(limit + 1),
      headers: { 'Content-Type': type },
    }).catch(() => undefined);
    if (said) expect(said.status).toBe(413);
    // Without a length in its header it is cut off while it comes.
    const sockets: Socket[] = [];
    web.server.on('connection', (socket) => sockets.push(socket));
    expect([0, 413]).toContain(await pour(address + at, type, 64 * limit));
    const read = sockets.reduce((sum, { bytesRead }) => sum + bytesRead, 0);
    // What the client could hand to the machine says nothing: what counts is what was taken from there.
    expect(read).toBeGreaterThan(limit);
    expect(read).toBeLessThan(8 * limit + 1_048_576);
  });

  it('lets uploads and long choices through by their own rule', () => {
    expect(bodyLimit('/projects/1/upload', 'application/octet-stream')).toBeGreaterThan(PART);
    expect(bodyLimit('/projects/1/operations', 'application/json')).toBeGreaterThan(
      bodyLimit('/x', 'application/json'),
    );
    expect(bodyLimit('/projects/1/upload/more', 'text/plain')).toBe(65_536);
  });

  it('ends in order: streams close, what runs is waited for, new requests are refused, the rest is cut off', async () => {
    const { web, address } = await started();
    const stream = await fetch(`${address}/events`);
    const reader = stream.body!.getReader();
    await reader.read();
    const slow = fetch(`${address}/slow`).catch(() => 'cut off');
    await new Promise((resolve) => setTimeout(resolve, 50));
    const ended = web.end(300);
    expect((await reader.read()).done).toBe(true);
    await expect(fetch(`${address}/page`)).rejects.toThrow();
    expect(await slow).toBe('cut off');
    await ended;
  });
});
