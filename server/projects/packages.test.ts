import { afterAll, describe, expect, it } from 'vitest';
import { openPackage } from '#core/handoff/open-package';
import { HandOffOptions } from '#core/handoff/plan';
import { gearUnit } from '#core/testing/projects';
import { closeDatabase } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { testProject } from '#server/testing';
import { getBlob, streamBlob } from './blobs';
import { cancelPackage, packageState, runPackage, startPackage } from './packages';

afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

const options = (allowBroken: boolean) => HandOffOptions.parse({ root: 'unit.stp', allowBroken });

describe('packages', () => {
  it('are written by a job and streamed out whole; nobody else sees them', async () => {
    const { db, project, owner } = await testProject(gearUnit());
    const id = await startPackage(db, project, owner.id, options(true));
    expect(await packageState(db, project, owner.id, id)).toMatchObject({ state: 'waiting' });
    await runPackage(db, id);
    const state = (await packageState(db, project, owner.id, id))!;
    expect(state).toMatchObject({ state: 'done', name: 'unit.zip', done: state.total, error: null });
    expect(await packageState(db, project, crypto.randomUUID(), id)).toBeUndefined();

    const { stream, bytes } = await streamBlob(db, state.sha256!);
    const streamed = Buffer.from(await new Response(stream).arrayBuffer());
    expect(streamed.byteLength).toBe(bytes);
    expect(streamed).toEqual(await getBlob(db, state.sha256!));
    const opened = await openPackage(streamed);
    expect(opened.list?.root).toBe('unit.stp');
    expect(opened.payload.size).toBe(state.total);
  });

  it('refuse broken links unless told to go on, and say so', async () => {
    const { db, project, owner } = await testProject(gearUnit());
    const id = await startPackage(db, project, owner.id, options(false));
    await runPackage(db, id);
    expect(await packageState(db, project, owner.id, id)).toMatchObject({
      state: 'failed',
      error: expect.stringMatching(/links are broken/),
    });
  });

  it('are not written when they were cancelled, and go after a day with their zip', async () => {
    const { db, project, owner } = await testProject(gearUnit());
    const cancelled = await startPackage(db, project, owner.id, options(true));
    await cancelPackage(db, project, owner.id, cancelled);
    await runPackage(db, cancelled);
    expect(await packageState(db, project, owner.id, cancelled)).toMatchObject({
      state: 'cancelled',
      sha256: null,
    });

    const old = await startPackage(db, project, owner.id, options(true));
    await runPackage(db, old);
    const { sha256 } = (await packageState(db, project, owner.id, old))!;
    await db('packages')
      .where('id', old)
      .update({ time: db.raw("now() - interval '2 days'") });
    await startPackage(db, project, owner.id, options(true));
    expect(await packageState(db, project, owner.id, old)).toBeUndefined();
    expect(await db('blobs').where('sha256', sha256)).toEqual([]);
  });
});
