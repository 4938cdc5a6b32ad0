import { afterAll, describe, expect, it } from 'vitest';
import { openPackage } from '#core/handoff/open-package';
import { HandOffOptions } from '#core/handoff/plan';
import type { Kernel } from '#core/shape/kernel';
import { gearUnit } from '#core/testing/projects';
import { getBlob, streamBlob } from '#server/db/blobs';
import { closeDatabase } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { cancelTask, runTask, startTask, taskState } from '#server/jobs/tasks';
import { testProject } from '#server/testing';
import { TASK_KINDS } from '#server/worker/task-kinds';
import type { WrittenPackage } from './packages';

afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

async function setUp() {
  const { db, project, owner } = await testProject(gearUnit());
  const who = { project, user: owner.id };
  const start = (allowBroken: boolean) =>
    startTask(db, who, 'package', HandOffOptions.parse({ root: 'unit.stp', allowBroken }));
  const run = (id: string) => runTask(db, {} as Kernel, TASK_KINDS, id);
  const state = (id: string) => taskState<WrittenPackage>(db, who, id);
  return { db, who, start, run, state };
}

describe('packages', () => {
  it('are written by a job and streamed out whole', async () => {
    const { db, start, run, state } = await setUp();
    const id = await start(true);
    await run(id);
    const { result } = (await state(id))!;
    expect(result).toMatchObject({ name: 'unit.zip' });
    const { stream, bytes } = await streamBlob(db, result!.sha256);
    const streamed = Buffer.from(await new Response(stream).arrayBuffer());
    expect(streamed.byteLength).toBe(bytes);
    expect(streamed).toEqual(await getBlob(db, result!.sha256));
    const opened = await openPackage(streamed);
    expect(opened.list?.root).toBe('unit.stp');
    expect(opened.payload.size).toBeGreaterThan(3);
  });

  it('refuse broken links unless told to go on, and say so', async () => {
    const { start, run, state } = await setUp();
    const id = await start(false);
    await run(id);
    expect(await state(id)).toMatchObject({
      state: 'failed',
      error: expect.stringMatching(/links are broken/),
    });
  });

  it('are not written when they were cancelled', async () => {
    const { db, who, start, run, state } = await setUp();
    const id = await start(true);
    await cancelTask(db, who, id);
    await run(id);
    expect(await state(id)).toMatchObject({ state: 'cancelled', result: null });
    expect(await db('log').where({ project_id: who.project, kind: 'package' })).toEqual([]);
  });
});
