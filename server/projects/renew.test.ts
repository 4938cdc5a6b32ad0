import { afterAll, describe, expect, it } from 'vitest';
import { MemoryFileSet } from '#core/change/memory';
import { filesToRenew } from '#core/repair/renew';
import { reportOf } from '#core/scan/report';
import type { Kernel } from '#core/shape/kernel';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { closeDatabase } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { runTask, startTask, taskState } from '#server/jobs/tasks';
import { testProject } from '#server/testing';
import { TASK_KINDS } from '#server/worker/task-kinds';
import type { AppliedChange } from './apply-in-task';
import { loadProject } from './project-scan';

afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

async function setUp() {
  const { db, project, owner } = await testProject(
    new MemoryFileSet([
      ['top.stp', testAssembly('TOP', [{ written: 'sub.stp', id: 'SUB' }], 'associated')],
      ['sub.stp', testAssembly('SUB', [{ written: 'in/p.stp', id: 'P' }], 'folder and name')],
      ['in/p.stp', writeBoxPart({ id: 'P' })],
    ]),
  );
  const who = { project, user: owner.id };
  const renew = async (base: { path: string; base: string }[]) => {
    const id = await startTask(db, who, 'renew', { base });
    await runTask(db, {} as Kernel, TASK_KINDS, id);
    return (await taskState<AppliedChange>(db, who, id))!;
  };
  const seen = async () => {
    const scanned = await loadProject(db, project);
    return filesToRenew(scanned).map(({ path }) => ({ path, base: scanned.files.get(path)!.sha256 }));
  };
  return { db, project, renew, seen };
}

describe('renewing links in a project', () => {
  it('is one change, and every link leads where it led', async () => {
    const { db, project, renew, seen } = await setUp();
    const before = await loadProject(db, project);
    const base = await seen();
    expect(base.map(({ path }) => path)).toEqual(['sub.stp', 'top.stp']);
    const done = await renew(base);
    expect(done).toMatchObject({
      state: 'done',
      result: { summary: 'Renewed how links are written in 2 files' },
    });
    const after = await loadProject(db, project);
    expect(reportOf(after).links).toEqual(reportOf(before).links);
    expect(await seen()).toEqual([]);
    expect(await renew(base)).toMatchObject({ state: 'failed', error: expect.stringContaining('by now') });
  });

  it('changes nothing when a file is no longer the one that was shown', async () => {
    const { renew, seen } = await setUp();
    const base = await seen();
    const done = await renew(base.map(({ path }) => ({ path, base: '0'.repeat(64) })));
    expect(done).toMatchObject({ state: 'failed', error: expect.stringContaining('has changed since') });
    expect(await seen()).toEqual(base);
  });
});

describe('links that are written alike', () => {
  it('are remembered each, by their kind', async () => {
    const assembly = Buffer.from(testAssembly('A', [{ written: 'b.stp', id: 'B' }])).toString('latin1');
    const [type] = /#\d+(?==DOCUMENT_TYPE)/.exec(assembly)!;
    const note = `#9001=DOCUMENT_FILE('b.stp','','',${type},'',$);\n`;
    const { db, project } = await testProject(
      new MemoryFileSet([
        ['a.stp', Buffer.from(assembly.replace('ENDSEC;\nEND-ISO', `${note}ENDSEC;\nEND-ISO`), 'latin1')],
        ['b.stp', writeBoxPart({ id: 'B' })],
      ]),
    );
    await loadProject(db, project);
    const rows = await db('last_targets')
      .where({ project_id: project })
      .orderBy('kind')
      .select('kind', 'path');
    expect(rows).toEqual([
      { kind: 'attachment', path: 'b.stp' },
      { kind: 'component', path: 'b.stp' },
    ]);
  });
});
