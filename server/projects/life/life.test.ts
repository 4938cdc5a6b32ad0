import { readFileSync } from 'node:fs';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ZipFile } from 'yazl';
import type { ImportOutline } from '#core/jobs/import/plan';
import { write } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { ProjectExport, projectExportSchema } from '#core/project/change/project-export';
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

  describe('comes back from its export', () => {
    /** Imports a zip into a new project, in which something may have been done already. */
    async function imported(content: Buffer, { into = [] as [string, string][], choices = {} } = {}) {
      const other = await testProject(into.length > 0 ? new MemoryFileSet(into) : undefined);
      const who = { project: other.project, user: other.owner.id };
      const of = { ...who, upload: await startUpload(db, who) };
      await receivePart(db, of, { path: 'export.zip', from: 0, total: content.length }, content);
      await finishUpload(db, of);
      const { plan, apply } = operationsIn(db, who);
      const asked = { from: [of.upload], ...choices };
      const planned = await plan<ImportOutline>('import', asked);
      const done = planned.result && (await apply('import', asked, planned.result));
      return { ...other, planned, done };
    }
    const exported = async (of = project) => buffer((await exportProject(db, of, new Date())).zip);
    const listIn = async (zip: Buffer) =>
      ProjectExport.parse(JSON.parse((await zipContents(zip)).get('project.json')!.toString()));
    /** The same zip with some of its contents changed. */
    async function changed(zip: Buffer, change: (contents: Map<string, Buffer>) => void) {
      const contents = await zipContents(zip);
      change(contents);
      const made = new ZipFile();
      for (const [path, content] of contents) made.addBuffer(content, path);
      made.end();
      return buffer(made.outputStream as Readable);
    }
    const withList = (zip: Buffer, edit: (list: ProjectExport) => void) =>
      changed(zip, (contents) => {
        const list = ProjectExport.parse(JSON.parse(contents.get('project.json')!.toString()));
        edit(list);
        contents.set('project.json', Buffer.from(JSON.stringify(list)));
      });
    let zip: Buffer;
    beforeAll(async () => {
      await fileSet.apply(await fileSet.planUndo(null));
      const [{ id }] = await db('publications')
        .insert({
          token: `offered-${project}`,
          project_id: project,
          path: 'unit.stp',
          sha256: 'a'.repeat(64),
          title: 'Unit',
          facts: JSON.stringify({ sides: [1, 2, 3], faces: 4, bytes: 5, mounting: ['4 holes'] }),
          image: Buffer.from('a picture'),
          user_id: owner.id,
        })
        .returning('id');
      await db('publication_files').insert({
        publication_id: id,
        format: 'step',
        name: 'unit.stp',
        content: Buffer.from('what is offered'),
        downloads: 7,
      });
      zip = await exported();
    });
    afterAll(() => db('publications').where('project_id', project).delete());

    /** What an export says, but for what is this project's own: ids, when it was exported, and addresses that were taken. */
    function comparable({ exported: _, name: __, members: ___, ...list }: ProjectExport) {
      const numbers = new Map<string, string>();
      const text = JSON.stringify({
        ...list,
        publications: list.publications.map(({ token: _token, ...publication }) => publication),
      });
      return text.replace(/[0-9a-f]{8}-[0-9a-f-]{27}/g, (id) => {
        if (!numbers.has(id)) numbers.set(id, `id ${numbers.size}`);
        return numbers.get(id)!;
      });
    }

    it('with every version, change, word of the log, publication and member, into a new project', async () => {
      const before = await listIn(zip);
      const guest = `guest-${project}@demo.invalid`;
      const known = await withList(zip, (list) => {
        list.members.push({ name: 'A guest', email: guest, role: 'viewer' });
        for (const one of [...list.changes, ...list.versions, ...list.log])
          if (one.who === 'Owner') one.email = `gone-${one.email}`;
      });
      const { planned, done, project: other, fileSet: files } = await imported(known);
      expect(planned.result!.preview.verified).toEqual([{ path: 'export.zip', files: before.files.length }]);
      expect(planned.result!.preview.history).toMatchObject({
        versions: before.versions.length,
        changes: before.changes.length,
        publications: 1,
        comes: true,
      });
      expect(done).toMatchObject({ state: 'done' });
      expect(await files.list()).toEqual(await fileSet.list());
      const after = await listIn(await exported(other));
      // That it was brought back is said last; what was done when it was made stands before.
      const [made, ...log] = after.log;
      expect(made!.summary).toBe('Created the project');
      expect(log.pop()!.summary).toMatch(/^Brought back as exported on \d{4}-/);
      const nameless = (list: ProjectExport) => {
        for (const one of [...list.changes, ...list.versions, ...list.log]) one.email = null;
        return comparable(list);
      };
      expect(nameless({ ...after, log })).toBe(nameless(before));
      expect(after.changes.every(({ who, email }) => who === 'Owner' && email === null)).toBe(true);
      const invited = await db('invitations').where('project_id', other).select('email', 'role');
      expect(invited).toContainEqual({ email: guest, role: 'viewer' });
      // What was done there can be taken back here.
      const undo = await files.planUndo(null);
      await files.apply(undo);
      expect(sha256(await files.read('unit.stp'))).not.toBe(
        before.files.find(({ path }) => path === 'unit.stp')!.sha256,
      );
    });

    it('as done by those who have an account here under the same address', async () => {
      const { project: other } = await imported(zip);
      const authors = await db('change_sets').where('project_id', other).distinct('author_id', 'author_name');
      expect(authors).toEqual([{ author_id: owner.id, author_name: null }]);
    });

    it('file by file where something was done already, or its history is not wanted', async () => {
      const before = await fileSet.list();
      for (const [some, comes] of [
        [{ into: [['mine.txt', 'x']] as [string, string][] }, false],
        [{ choices: { withoutHistory: true } }, true],
      ] as const) {
        const { planned, done, fileSet: files, project: other } = await imported(zip, some);
        expect(done?.state).toBe('done');
        expect(planned.result!.preview.history).toMatchObject({ comes: false, canCome: comes });
        expect((await files.list()).filter(({ path }) => path !== 'mine.txt')).toEqual(before);
        const changes = await db('change_sets').where('project_id', other).select('summary');
        expect(changes.at(-1)).toEqual({ summary: 'Imported export.zip' });
      }
    });

    it.each<[string, string, (contents: Map<string, Buffer>) => void]>([
      [
        'a file',
        'unit.stp is not what',
        (contents) => contents.set('files/unit.stp', Buffer.from('quite another')),
      ],
      [
        'an older version',
        'of unit.stp is missing',
        (contents) => contents.delete([...contents.keys()].find((path) => path.startsWith('history/'))!),
      ],
      [
        'what was published',
        'what was published of unit.stp is missing',
        (contents) => contents.delete([...contents.keys()].find((path) => path.startsWith('publications/'))!),
      ],
    ])('not at all when %s was damaged', async (_, problem, damage) => {
      const { planned, fileSet: files } = await imported(await changed(zip, damage));
      expect(planned.error).toContain('export.zip is damaged, so nothing of it was taken');
      expect(planned.error).toContain(problem);
      expect(await files.list()).toEqual([]);
    });

    it.each<[string, string, (list: ProjectExport) => void]>([
      [
        'fetches what belongs to others',
        'changed is not there',
        ({ changes }) => {
          changes[1]!.changes[0]!.base = 'b'.repeat(64);
        },
      ],
      ['has two changes of one id', 'one id', ({ changes }) => changes.push(changes[0]!)],
      [
        'takes back what is not there',
        'not there to be taken back',
        ({ changes }) => {
          changes[0]!.undoes = '5f0c7a44-0000-4000-8000-000000000000';
        },
      ],
      [
        'says another content of a version than of the file',
        'has no such version',
        ({ files }) => {
          files[0]!.version = 99;
        },
      ],
    ])('not at all when its history %s', async (_, problem, forge) => {
      const { planned, fileSet: files } = await imported(await withList(zip, forge));
      expect(planned.error).toContain(problem);
      expect(await files.list()).toEqual([]);
    });
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
    expect(await sizeOfProject(db, project)).toMatchObject({ files: 9, versions: 12, offered: 1 });
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
    expect((await fileSet.read('unit.stp')).toString()).toBe('other');
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
