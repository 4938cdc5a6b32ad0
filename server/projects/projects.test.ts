import { afterAll, describe, expect, it } from 'vitest';
import { MOVE } from '#core/jobs/move/operation';
import { planRepair } from '#core/jobs/repair/plan';
import { reportOf } from '#core/jobs/scan/scan-report';
import { planningOn } from '#core/planning';
import { ConflictError, write } from '#core/project/change/change-set';
import { Refusal } from '#core/refusal';
import { gearUnit } from '#core/testing/projects';
import { putUser } from '#server/auth/sessions';
import { dropAbandoned, putBlobStream } from '#server/db/arriving';
import { getBlob, putBlob } from '#server/db/blobs';
import { closeDatabase } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { listMembers, removeMember, setRole, updateProject } from '#server/projects/people/members';
import { loadProject } from '#server/projects/scan/project-scan';
import { testProject } from '#server/testing';
import { putMember, readLog, versionsOf } from './projects';

afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

async function* chunks(content: Uint8Array, size = 70_000): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < content.length; at += size) yield content.subarray(at, at + size);
}

const NO_CHANGE = { summary: '', rewires: [], warnings: [] };

describe('contents', () => {
  it('are stored once and come back byte for byte', async () => {
    const { db } = await testProject();
    const content = Buffer.alloc(2_500_000, 0).map((_, n) => (n * 7919) % 251);
    const hash = await putBlob(db, content);
    expect(await putBlobStream(db, chunks(content))).toEqual({ sha256: hash, bytes: content.length });
    expect((await getBlob(db, hash)).equals(content)).toBe(true);
    expect(await db('blob_chunks').where('sha256', hash)).toHaveLength(3);
  });

  it('leave nothing behind when a stream breaks off', async () => {
    const { db } = await testProject();
    const before = (await db('blobs').count())[0];
    const breaking = (async function* () {
      yield Buffer.from('part');
      throw new Error('connection lost');
    })();
    await expect(putBlobStream(db, breaking)).rejects.toThrow('connection lost');
    expect((await db('blobs').count())[0]).toEqual(before);
  });

  it('that are on their way hold nobody up, and are let go of when they never arrive', async () => {
    const { db } = await testProject();
    let go = () => {};
    const last = new Promise<void>((resolve) => {
      go = resolve;
    });
    const slow = async function* (n: number) {
      yield Buffer.alloc(1_100_000, n);
      await last;
      yield Buffer.from(`end ${n}`);
    };
    // More than there are connections.
    const arriving = Array.from({ length: 20 }, (_, n) => putBlobStream(db, slow(n + 1)));
    await expect
      .poll(async () => (await db('blobs').where('sha256', 'like', 'arriving-%').pluck('sha256')).length)
      .toBe(20);
    expect(await db('projects').first('id')).toBeDefined();
    go();
    expect((await Promise.all(arriving)).map(({ bytes }) => bytes)[0]).toBe(1_100_005);
    await db('blobs').insert({ sha256: `arriving-${Date.now() - 1000}-x`, bytes: 0 });
    expect(await dropAbandoned(db)).toBe(0);
    expect(await dropAbandoned(db, 0)).toBe(1);
  });
});

describe('changes', () => {
  it('repair a project in one transaction, keep each version, and can be undone and done again', async () => {
    const { db, project, fileSet } = await testProject(gearUnit());
    const plan = await planRepair(planningOn(await loadProject(db, project), fileSet), [
      { holder: 'drive/drive.stp', written: '..\\parts\\lid.stp', target: 'parts/lid_rev-b.stp' },
    ]);
    const id = await fileSet.applyAs(plan);
    expect(reportOf(await loadProject(db, project)).totals).toMatchObject({ missing: 0, ambiguous: 1 });
    expect(
      (await versionsOf(db, project, 'drive/drive.stp')).map(({ version, note }) => [version, note]),
    ).toEqual([
      [2, 'Repaired 1 link in drive/drive.stp'],
      [1, 'Imported test files'],
    ]);
    const undo = await fileSet.applyAs(await fileSet.planUndo(id));
    expect(reportOf(await loadProject(db, project)).totals).toMatchObject({ missing: 1 });
    await expect(fileSet.planUndo(id)).rejects.toThrow(Refusal);
    await fileSet.applyAs(await fileSet.planUndo(undo));
    expect(reportOf(await loadProject(db, project)).totals).toMatchObject({ missing: 0 });
    expect((await readLog(db, project)).map(({ kind }) => kind)).toEqual([
      'undo',
      'undo',
      'change',
      'change',
      'project',
    ]);
  });

  it('keep their versions under another path, also when the change of a file and its move are one', async () => {
    const { db, project, fileSet } = await testProject(gearUnit());
    const move = async (from: string, to: string) => {
      const context = planningOn(await loadProject(db, project), fileSet);
      const { change } = await MOVE.plan(context, { moves: [{ from, to }], withoutEnding: false });
      return fileSet.applyAs(change);
    };
    const versions = async (path: string) =>
      (await versionsOf(db, project, path)).map(({ version, path: at }) => `${version} ${at}`);
    // The holder's own links are written anew on its way.
    const moved = await move('drive/drive.stp', 'gear/in/drive.stp');
    expect(await versions('gear/in/drive.stp')).toEqual(['2 gear/in/drive.stp', '1 drive/drive.stp']);
    expect(await versions('unit.stp')).toEqual(['2 unit.stp', '1 unit.stp']);
    const housing = (await loadProject(db, project)).links.find(({ to }) => to === 'parts/housing.stp');
    expect(housing).toMatchObject({ holder: 'gear/in/drive.stp', written: '../../parts/housing.stp' });
    // A new file where the other lay begins anew.
    const other = { ...NO_CHANGE, changes: [write('drive/drive.stp', null, Buffer.from('x'))] };
    const made = await fileSet.applyAs(other);
    expect(await versions('drive/drive.stp')).toEqual(['1 drive/drive.stp']);
    await fileSet.applyAs(await fileSet.planUndo(made));
    await fileSet.applyAs(await fileSet.planUndo(moved));
    expect(await versions('drive/drive.stp')).toEqual([
      '3 drive/drive.stp',
      '2 gear/in/drive.stp',
      '1 drive/drive.stp',
    ]);
    // One that was deleted and comes back is the same.
    const { sha256 } = (await fileSet.list()).find(({ path }) => path === 'parts/left-over.stp')!;
    const gone = await fileSet.applyAs({
      ...NO_CHANGE,
      changes: [{ action: 'delete', path: 'parts/left-over.stp', base: sha256 }],
    });
    await fileSet.applyAs(await fileSet.planUndo(gone));
    expect(await versions('parts/left-over.stp')).toEqual(['2 parts/left-over.stp', '1 parts/left-over.stp']);
  });

  it('change nothing on a conflict', async () => {
    const { db, project, fileSet } = await testProject(gearUnit());
    const before = await fileSet.list();
    const stale = {
      summary: 'x',
      rewires: [],
      warnings: [],
      changes: [
        write('new.stp', null, Buffer.from('x')),
        write('unit.stp', 'ab'.repeat(32), Buffer.from('y')),
      ],
    };
    await expect(fileSet.applyAs(stale)).rejects.toThrow(ConflictError);
    expect(await fileSet.list()).toEqual(before);
    expect(await db('versions').where({ project_id: project, path: 'new.stp' })).toEqual([]);
  });

  it('let only one of two simultaneous changes to one file through', async () => {
    const { fileSet } = await testProject(gearUnit());
    const base = (await fileSet.list()).find(({ path }) => path === 'unit.stp')!.sha256;
    const attempt = (text: string) =>
      fileSet.applyAs({
        summary: text,
        rewires: [],
        warnings: [],
        changes: [write('unit.stp', base, Buffer.from(text))],
      });
    const results = await Promise.allSettled([attempt('one'), attempt('two'), attempt('three')]);
    expect(results.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
  });

  it('remember what links led to, as evidence for the day on which they break', async () => {
    const { db, project, fileSet } = await testProject(gearUnit());
    const before = await loadProject(db, project);
    const { sha256 } = before.files.get('parts/base.stp')!;
    await fileSet.applyAs({
      summary: 'Moved',
      rewires: [],
      warnings: [],
      changes: [{ action: 'move', path: 'parts/base.stp', to: 'zzz/renamed.stp', base: sha256 }],
    });
    await loadProject(db, project);
    expect(
      await db('last_targets')
        .where({ project_id: project, holder: 'unit.stp', kind: 'component', written: 'parts/base.stp' })
        .first(),
    ).toMatchObject({ sha256, path: 'parts/base.stp' });
  });
});

describe('members', () => {
  it('get roles from an owner, and one owner always stays', async () => {
    const { db, project, owner } = await testProject();
    const other = await putUser(db, {
      email: `m-${project}@demo.invalid`,
      name: 'Other',
      password: 'other-password',
    });
    await putMember(db, project, other.id, 'viewer');
    expect((await listMembers(db, project)).map(({ name, role }) => [name, role])).toEqual([
      ['Other', 'viewer'],
      ['Owner', 'owner'],
    ]);
    await expect(setRole(db, project, owner.id, owner.id, 'editor')).rejects.toThrow('needs an owner');
    await expect(removeMember(db, project, owner.id, owner.id)).rejects.toThrow(Refusal);
    await setRole(db, project, owner.id, other.id, 'owner');
    await removeMember(db, project, other.id, owner.id);
    expect(await listMembers(db, project)).toHaveLength(1);
    await expect(setRole(db, project, other.id, owner.id, 'viewer')).rejects.toThrow('no member any more');
  });

  it('set search folders, which resolve what was ambiguous', async () => {
    const { db, project, owner } = await testProject(gearUnit());
    expect(reportOf(await loadProject(db, project)).totals.ambiguous).toBe(1);
    await updateProject(db, project, owner.id, {
      name: 'Unit',
      description: '',
      searchFolders: [' std/ ', ''],
    });
    expect(reportOf(await loadProject(db, project)).totals.ambiguous).toBe(0);
    await expect(
      updateProject(db, project, owner.id, { name: 'Unit', description: '', searchFolders: ['../up'] }),
    ).rejects.toThrow('search folder');
  });
});
