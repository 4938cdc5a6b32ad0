import { mkdir, mkdtemp, readdir, readFile, rm, symlink, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { type ChangeSet, ConflictError, inverse, write } from './change-set';
import { sha256 } from './file-set';
import { FolderFileSet } from './folder';
import { MemoryFileSet } from './memory';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(path.join(os.tmpdir(), 'stonetray-change-'));
  await mkdir(path.join(folder, 'sub'));
  await writeFile(path.join(folder, 'a.stp'), 'old a');
  await writeFile(path.join(folder, 'sub/b.stp'), 'old b');
  await writeFile(path.join(folder, 'c.stp'), 'old c');
});
afterEach(() => rm(folder, { recursive: true, force: true }));

const bytes = (text: string) => new TextEncoder().encode(text);
const hash = (text: string) => sha256(bytes(text));
const plan = (): ChangeSet => ({
  summary: 'Changed everything',
  rewires: [],
  warnings: [],
  changes: [
    write('a.stp', hash('old a'), bytes('new a')),
    { action: 'move', path: 'sub/b.stp', to: 'moved/b.stp', base: hash('old b') },
    { action: 'delete', path: 'c.stp', base: hash('old c') },
    write('new/d.stp', null, bytes('new d')),
  ],
});
const BEFORE = { 'a.stp': 'old a', 'c.stp': 'old c', 'sub/b.stp': 'old b' };
const AFTER = { 'a.stp': 'new a', 'moved/b.stp': 'old b', 'new/d.stp': 'new d' };

const contentsOf = async (files: {
  list(): Promise<{ path: string }[]>;
  read(path: string): Promise<Uint8Array>;
}) =>
  Object.fromEntries(
    await Promise.all(
      (await files.list()).map(async ({ path: file }) => [
        file,
        Buffer.from(await files.read(file)).toString(),
      ]),
    ),
  );

describe.each([
  ['a folder', async () => FolderFileSet.open(folder)],
  ['memory', async () => new MemoryFileSet(Object.entries(BEFORE))],
])('applying to %s', (_, make) => {
  it('writes, moves and deletes in one go, and takes it back', async () => {
    const files = await make();
    const undo = await files.apply(plan());
    expect(await contentsOf(files)).toEqual(AFTER);
    const redo = await files.apply(undo);
    expect(await contentsOf(files)).toEqual(BEFORE);
    await files.apply(redo);
    expect(await contentsOf(files)).toEqual(AFTER);
  });

  it.each<[string, ChangeSet['changes'][number], string]>([
    ['a file that changed', write('a.stp', hash('something else'), bytes('x')), 'a.stp has changed since'],
    [
      'a file that is gone',
      { action: 'delete', path: 'gone.stp', base: hash('x') },
      'gone.stp is no longer there',
    ],
    ['a file that is there already', write('a.stp', null, bytes('x')), 'a.stp exists already'],
    ['a path out of the folder', write('../escape.stp', null, bytes('x')), 'cannot be written'],
  ])('changes nothing on a conflict with %s', async (_name, change, words) => {
    const files = await make();
    const both = { ...plan(), changes: [write('fine.stp', null, bytes('fine')), change] };
    await expect(files.apply(both)).rejects.toThrow(ConflictError);
    await expect(files.apply(both)).rejects.toThrow(words);
    expect(await contentsOf(files)).toEqual(BEFORE);
  });
});

it('takes back where a link led, too', () => {
  const rewire = {
    holder: 'a.stp',
    written: 'old.stp',
    rewritten: 'new.stp',
    to: 'in/new.stp',
    was: 'in/old.stp',
  };
  const change = { summary: 'Repaired', changes: [], rewires: [rewire], warnings: [] };
  const back = inverse(change, () => 0);
  expect(back.rewires).toEqual([
    { holder: 'a.stp', written: 'new.stp', rewritten: 'old.stp', to: 'in/old.stp', was: 'in/new.stp' },
  ]);
  expect(inverse(back, () => 0).rewires).toEqual(change.rewires);
});

describe('a folder', () => {
  it('is in the old state or the new after being killed at any step', async () => {
    const steps: string[] = [];
    await (await FolderFileSet.open(folder, (step) => steps.push(step))).apply(plan());
    expect(steps.length).toBeGreaterThan(8);
    for (let kill = 0; kill < steps.length; kill++) {
      await rm(folder, { recursive: true, force: true });
      for (const [file, content] of Object.entries(BEFORE)) {
        await mkdir(path.dirname(path.join(folder, file)), { recursive: true });
        await writeFile(path.join(folder, file), content);
      }
      let step = 0;
      const dying = await FolderFileSet.open(folder, () => {
        if (step++ === kill) throw new Error('killed');
      });
      await expect(dying.apply(plan())).rejects.toThrow('killed');
      const journalled = await readFile(path.join(folder, '.stonetray/journal.json')).then(
        () => true,
        () => false,
      );
      const reopened = await FolderFileSet.open(folder);
      expect(await contentsOf(reopened)).toEqual(journalled ? AFTER : BEFORE);
      expect((await reopened.history()).length).toBe(journalled ? 1 : 0);
    }
  });

  it('keeps every content that it replaces, and a history', async () => {
    const files = await FolderFileSet.open(folder);
    await files.apply(plan());
    expect(await readFile(path.join(folder, '.stonetray/kept', hash('old a')), 'utf8')).toBe('old a');
    expect((await files.history()).map(({ summary }) => summary)).toEqual(['Changed everything']);
    await files.apply(await files.planUndo());
    expect(await contentsOf(files)).toEqual(BEFORE);
    expect((await readdir(folder)).filter((name) => name.startsWith('.stonetray-'))).toEqual([]);
  });

  it('leaves no empty folder behind, and brings it back', async () => {
    await mkdir(path.join(folder, 'deep/er'), { recursive: true });
    await writeFile(path.join(folder, 'deep/er/only.stp'), 'only');
    await mkdir(path.join(folder, 'mine'));
    const files = await FolderFileSet.open(folder);
    const changes = [
      { action: 'move' as const, path: 'deep/er/only.stp', to: 'only.stp', base: hash('only') },
    ];
    await files.apply({ summary: 'Moved', changes, rewires: [], warnings: [] });
    const folders = async () =>
      (await readdir(folder)).filter((name) => ['deep', 'mine', 'only.stp'].includes(name)).sort();
    // One that was empty before is somebody's own.
    expect(await folders()).toEqual(['mine', 'only.stp']);
    await files.apply(await files.planUndo());
    expect(await folders()).toEqual(['deep', 'mine']);
    expect(await readFile(path.join(folder, 'deep/er/only.stp'), 'utf8')).toBe('only');
  });

  it('never follows a symbolic link', async () => {
    const outside = await mkdtemp(path.join(os.tmpdir(), 'stonetray-outside-'));
    await symlink(outside, path.join(folder, 'link'));
    const files = await FolderFileSet.open(folder);
    expect(Object.keys(await contentsOf(files))).not.toContain('link');
    await expect(
      files.apply({ ...plan(), changes: [write('link/x.stp', null, bytes('x'))] }),
    ).rejects.toThrow('symbolic link');
    expect(await readdir(outside)).toEqual([]);
    await rm(outside, { recursive: true });
  });

  it('says so when it is no folder', async () => {
    await expect(FolderFileSet.open(path.join(folder, 'a.stp'))).rejects.toThrow('is not a folder');
  });
});
