import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { AFTER, BEFORE, bytes, changeOfAll, hash } from '#core/testing/folder-change';
import { type ChangeSet, ConflictError, inverse, write } from './change-set';
import { FolderFileSet } from './folder/folder';
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
    const undo = await files.apply(changeOfAll());
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
    const both = { ...changeOfAll(), changes: [write('fine.stp', null, bytes('fine')), change] };
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
