import { readFileSync } from 'node:fs';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ZipFile } from 'yazl';
import type { ImportOutline } from '#core/jobs/import/plan';
import { write } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
import { ProjectExport, projectExportSchema } from '#core/project/formats/project-export';
import { gearUnit } from '#core/testing/projects';
import { zipContents } from '#core/testing/zip-contents';
import type { User } from '#server/auth/sessions';
import { putBlob } from '#server/db/blobs';
import { closeDatabase, type Database } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { startTask } from '#server/jobs/tasks';
import { catalogue, publicationAt } from '#server/projects/catalogue/publications';
import type { ProjectFileSet } from '#server/projects/files/project-files';
import { finishUpload, receivePart, startUpload } from '#server/projects/files/uploads';
import { listProjects } from '#server/projects/projects';
import { operationsIn, testProject } from '#server/testing';
import { collect } from './collect';
import { exportProject } from './export';
import { bringBack, deletedProjects, deleteProject, setArchived, sizeOfProject } from './life';

let db: Database;
let project: string;
let owner: User;
let fileSet: ProjectFileSet;
beforeAll(async () => {
  ({ db, project, owner, fileSet } = await testProject(gearUnit()));
});
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

const rewrite = async (path: string, text: string) => {
  const base = await fileSet.read(path);
  return fileSet.applyAs({
    summary: `Rewrote ${path}`,
    changes: [write(path, sha256(base), Buffer.from(text))],
    rewires: [],
    warnings: [],
  });
};

describe('a project', () => {
  it('changes nothing while it is in the archive, and goes on when it is taken out', async () => {
    await setArchived(db, project, owner.id, true);
    expect(await listProjects(db, owner.id)).toMatchObject([{ id: project, isArchived: true }]);
    const before = await fileSet.list();
    await expect(rewrite('unit.stp', 'other')).rejects.toThrow('is archived');
    expect(await fileSet.list()).toEqual(before);
    await setArchived(db, project, owner.id, false);
    await rewrite('unit.stp', 'other');
    expect((await fileSet.read('unit.stp')).toString()).toBe('other');
  });

  it('is exported whole: every version of every file, byte for byte, and who did what', async () => {
    await rewrite('unit.stp', 'a third');
    const { name, zip } = await exportProject(db, project, new Date());
    expect(name).toBe('Test project');
    const contents = await zipContents(await buffer(zip));
    const list = ProjectExport.parse(JSON.parse(contents.get('project.json')!.toString()));
    const present = await fileSet.list();
    expect(list.files.map(({ path, sha256: hash }) => [path, hash])).toEqual(
      present.map((file) => [file.path, file.sha256]),
    );
    for (const { path, sha256: hash } of present) expect(sha256(contents.get(`files/${path}`)!)).toBe(hash);
    const now = new Set(present.map(({ sha256: hash }) => hash));
    const older = list.versions.filter(({ sha256: hash }) => !now.has(hash));
    expect(older.filter(({ path }) => path === 'unit.stp').map(({ version }) => version)).toEqual([1, 2]);
    for (const { sha256: hash } of older) expect(sha256(contents.get(`history/${hash}`)!)).toBe(hash);
    expect(contents.size).toBe(1 + present.length + new Set(older.map(({ sha256: hash }) => hash)).size);
    expect(list.changes.map(({ who, summary }) => `${who}: ${summary}`)).toEqual([
      'Owner: Imported test files',
      'Owner: Rewrote unit.stp',
      'Owner: Rewrote unit.stp',
    ]);
    expect(list.log.map(({ kind }) => kind)).toEqual([
      'project',
      'change',
      'project',
      'project',
      'change',
      'change',
    ]);
  });

  it('comes back from its export into another project, file by file, and not when one was damaged', async () => {
    const zip = await buffer((await exportProject(db, project, new Date())).zip);
    const imported = async (content: Buffer) => {
      const other = await testProject();
      const who = { project: other.project, user: other.owner.id };
      const of = { ...who, upload: await startUpload(db, who) };
      await receivePart(db, of, { path: 'export.zip', from: 0, total: content.length }, content);
      await finishUpload(db, of);
      const { plan, apply } = operationsIn(db, who);
      const choices = { from: [of.upload] };
      const planned = await plan<ImportOutline>('import', choices);
      const done = planned.result && (await apply('import', choices, planned.result));
      return { planned, done, files: await other.fileSet.list() };
    };
    const before = await fileSet.list();
    const { planned, done, files } = await imported(zip);
    expect(done?.state).toBe('done');
    expect(planned.result!.preview.verified).toEqual([{ path: 'export.zip', files: before.length }]);
    expect(files).toEqual(before);
    const contents = await zipContents(zip);
    contents.set('files/unit.stp', Buffer.from('something else'));
    const damaged = new ZipFile();
    for (const [path, content] of contents) damaged.addBuffer(content, path);
    damaged.end();
    const refused = await imported(await buffer(damaged.outputStream as Readable));
    expect(refused.planned.error).toContain(
      'export.zip is damaged, so nothing of it was taken: unit.stp is not what',
    );
    expect(refused.files).toEqual([]);
  });

  it('has an export whose schema is the one that is published', () => {
    const published = readFileSync(
      new URL('../../../docs/project-export.schema.json', import.meta.url),
      'utf8',
    );
    expect(JSON.parse(published)).toEqual(projectExportSchema());
  });

  it('is deleted by its name only; then nobody finds it nor what it offers, until an owner brings it back', async () => {
    await db('publications').insert({
      token: `t-${project}`,
      project_id: project,
      path: 'a',
      sha256: 'a',
      title: 'A',
      facts: '{}',
    });
    expect(await sizeOfProject(db, project)).toMatchObject({ files: 9, versions: 11, offered: 1 });
    await expect(deleteProject(db, project, owner.id, 'test project')).rejects.toThrow(
      'is called Test project',
    );
    await deleteProject(db, project, owner.id, ' Test project ');
    expect(await listProjects(db, owner.id)).toEqual([]);
    await expect(rewrite('unit.stp', 'no')).rejects.toThrow('was deleted');
    expect(await publicationAt(db, `t-${project}`)).toBeUndefined();
    expect((await catalogue(db)).map(({ token }) => token)).not.toContain(`t-${project}`);
    const [gone] = await deletedProjects(db, owner.id);
    expect(gone).toMatchObject({ id: project, name: 'Test project' });
    expect(Date.parse(gone!.until) - Date.now()).toBeGreaterThan(29 * 86_400_000);
    const stranger = await testProject();
    expect(await deletedProjects(db, stranger.owner.id)).toEqual([]);
    await expect(bringBack(db, project, stranger.owner.id)).rejects.toThrow('not there any more');
    await bringBack(db, project, owner.id);
    expect((await fileSet.read('unit.stp')).toString()).toBe('a third');
    expect(await publicationAt(db, `t-${project}`)).toBeDefined();
  });
});

describe('what belongs to nobody', () => {
  const age = (hash: string, hours: number) =>
    db('blobs')
      .where('sha256', hash)
      .update({ time: db.raw('now() - make_interval(hours => ?)', [hours]) });
  const isThere = async (hash: string) =>
    (await db('blobs').where('sha256', hash).first('sha256')) !== undefined;

  it('is collected: contents that nothing refers to for a day, and nothing that anything refers to', async () => {
    const [loose, fresh, gltf] = await Promise.all(
      ['loose', 'fresh', 'gltf'].map((text) => putBlob(db, Buffer.from(`${text} ${project}`))),
    );
    for (const { sha256: hash } of await fileSet.list()) await age(hash, 1000);
    await db('shapes').insert({
      sha256: (await fileSet.list())[0]!.sha256,
      kernel: 'k',
      quality: 'q',
      state: 'done',
      bodies: '[]',
      gltf,
    });
    await age(loose!, 25);
    await age(gltf!, 1000);
    await age(fresh!, 23);
    await collect(db);
    expect([await isThere(loose!), await isThere(fresh!), await isThere(gltf!)]).toEqual([false, true, true]);
    for (const { path, sha256: hash } of await fileSet.list())
      expect(sha256(await fileSet.read(path))).toBe(hash);
  });

  it('keeps what was computed from a content as long as that may still be taken in, and what a task holds', async () => {
    const [young, old, held] = (await Promise.all(
      ['young', 'old', 'held'].map((text) => putBlob(db, Buffer.from(`${text} ${project}`))),
    )) as [string, string, string];
    const computed = async (hash: string) => {
      await db('scans').insert({ sha256: hash, extension: 'stp', version: 1, scan: '{}' });
      await db('shapes').insert({ sha256: hash, kernel: 'k', quality: 'q', state: 'done', bodies: '[]' });
    };
    for (const hash of [young, old, held]) await computed(hash);
    await age(young, 23);
    await age(old, 25);
    await age(held, 1000);
    const task = await startTask(db, { project, user: owner.id }, 'plan', { operation: 'x', choices: {} });
    await db('task_blobs').insert({ task_id: task, sha256: held });
    await collect(db);
    const left = async (hash: string) => [
      await isThere(hash),
      (await db('scans').where('sha256', hash)).length,
      (await db('shapes').where('sha256', hash)).length,
    ];
    expect(await left(young)).toEqual([true, 1, 1]);
    expect(await left(held)).toEqual([true, 1, 1]);
    expect(await left(old)).toEqual([false, 0, 0]);
  });

  it('goes with a project that has no member, after a day of grace', async () => {
    const { project: left, owner: only } = await testProject();
    await db('members').where({ project_id: left, user_id: only.id }).delete();
    const created = (hours: number) =>
      db('projects')
        .where('id', left)
        .update({ created_at: db.raw('now() - make_interval(hours => ?)', [hours]) });
    const isLeft = async () => (await db('projects').where('id', left)).length === 1;
    await created(23);
    await collect(db);
    expect(await isLeft()).toBe(true);
    await created(25);
    await collect(db);
    expect(await isLeft()).toBe(false);
  });

  it('is not collected when somebody has just brought it again', async () => {
    const content = Buffer.from(`again ${project}`);
    const hash = await putBlob(db, content);
    await age(hash, 100);
    await putBlob(db, content);
    await collect(db);
    expect(await isThere(hash)).toBe(true);
  });

  it('are projects that were deleted 30 days ago, with all that only they hold', async () => {
    const { project: old, owner: other, fileSet: files } = await testProject();
    const only = Buffer.from(`only ${old}`);
    await files.applyAs({
      summary: 'one',
      changes: [write('one.txt', null, only)],
      rewires: [],
      warnings: [],
    });
    await age(sha256(only), 1000);
    await deleteProject(db, old, other.id, 'Test project');
    await db('projects')
      .where('id', old)
      .update({ deleted: db.raw(`now() - interval '29 days'`) });
    await collect(db);
    expect(await deletedProjects(db, other.id)).toHaveLength(1);
    expect(await isThere(sha256(only))).toBe(true);
    await db('projects')
      .where('id', old)
      .update({ deleted: db.raw(`now() - interval '31 days'`) });
    expect((await collect(db)).projects).toBeGreaterThan(0);
    expect(await deletedProjects(db, other.id)).toEqual([]);
    expect(await isThere(sha256(only))).toBe(false);
  });
});
