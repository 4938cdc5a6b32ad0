import {
  chmod,
  mkdir,
  mkdtemp,
  readdir,
  readFile,
  rename,
  rm,
  stat,
  symlink,
  utimes,
  writeFile,
} from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { AFTER, BEFORE, bytes, changeOfAll, hash } from '#core/testing/folder-change';
import { ConflictError, write } from '../change-set';
import { FolderFileSet } from './folder';
import type { OnStep } from './records';

let folder: string;
const inside = (...parts: string[]) => path.join(folder, ...parts);
async function fill(): Promise<void> {
  for (const [file, content] of Object.entries(BEFORE)) {
    await mkdir(path.dirname(inside(file)), { recursive: true });
    await writeFile(inside(file), content);
  }
}
beforeEach(async () => {
  folder = await mkdtemp(path.join(os.tmpdir(), 'stonetray-folder-'));
  await fill();
});
afterEach(() => rm(folder, { recursive: true, force: true }));

/** All that lies in the folder, but for its records. */
async function contents(): Promise<{ [file: string]: string }> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true });
  const files = entries
    .filter((entry) => entry.isFile())
    .map((entry) => path.relative(folder, path.join(entry.parentPath, entry.name)))
    .filter((file) => !file.startsWith('.stonetray/'));
  return Object.fromEntries(
    await Promise.all(files.sort().map(async (file) => [file, await readFile(inside(file), 'utf8')])),
  );
}

/** Changes the folder and is killed at a step. The lock that is left belongs to nobody any more. */
async function killedAt(kill: number): Promise<void> {
  let step = 0;
  await new Promise<void>((killed, failed) => {
    const die: OnStep = () =>
      step++ < kill
        ? undefined
        : new Promise<void>(() => {
            killed();
          });
    FolderFileSet.openToChange(folder, die).then((dying) =>
      dying.apply(changeOfAll()).then(() => killed(), failed),
    );
  });
  const left = await readFile(inside('.stonetray/lock'), 'utf8').catch(() => undefined);
  if (left)
    await writeFile(inside('.stonetray/lock'), JSON.stringify({ ...JSON.parse(left), process: 2 ** 22 + 1 }));
}

/** Does something right before a step of a change. */
const rightBefore =
  (name: RegExp, work: () => Promise<unknown>): OnStep =>
  async (step) => {
    if (name.test(step)) await work();
  };

const applied = async (onStep?: OnStep) =>
  (await FolderFileSet.openToChange(folder, onStep)).apply(changeOfAll());

describe('a folder', () => {
  it('is in the old state or the new after being killed at any step, and reads in between', async () => {
    const steps: string[] = [];
    await applied((step) => void steps.push(step));
    expect(steps.length).toBeGreaterThan(12);
    for (let kill = 0; kill < steps.length; kill++) {
      await rm(folder, { recursive: true, force: true });
      await fill();
      await killedAt(kill);
      const reading = await FolderFileSet.open(folder);
      const between = await contents();
      const isUnderWay = (await reading.interrupted()) !== null;
      await Promise.all((await reading.list()).map(({ path: file }) => reading.read(file)));
      await reading.history();
      expect(await contents(), 'reading writes nothing').toEqual(between);
      const reopened = await FolderFileSet.openToChange(folder);
      // The next change takes away what was left, whatever it is.
      await reopened.apply({ summary: 'Nothing', changes: [], rewires: [], warnings: [] });
      expect([steps[kill], await contents()]).toEqual([steps[kill], isUnderWay ? AFTER : BEFORE]);
      expect((await reopened.history()).length).toBe(isUnderWay ? 2 : 1);
      expect((await readdir(inside('.stonetray'))).sort()).toEqual(['history', 'kept']);
      expect((await readdir(folder)).includes('new')).toBe(isUnderWay);
    }
  });

  it('is as it was when a file cannot be put in place, and says which and why', async () => {
    // A folder comes to stand where the new file goes, at the last moment.
    const blocked = rightBefore(/^place new\/d\.stp/, () => mkdir(inside('new/d.stp')));
    const trying = applied(blocked);
    await expect(trying).rejects.toThrow(/Nothing was changed: new\/d\.stp/);
    expect(await contents()).toEqual(BEFORE);
    await rm(inside('new'), { recursive: true });
    await applied();
    expect(await contents()).toEqual(AFTER);
  });

  it('has nothing changed when the disk is full before the journal says go', async () => {
    const full: OnStep = (step) => {
      if (step === 'stage new/d.stp') throw Object.assign(new Error('write'), { code: 'ENOSPC' });
    };
    await expect(applied(full)).rejects.toThrow(/the disk is full/);
    expect(await contents()).toEqual(BEFORE);
    expect(await readdir(folder)).not.toContain('moved');
  });

  it.each([
    ['takes the rest back', 'journal', BEFORE],
    ['does the rest', 'nothing', AFTER],
  ])(
    'stays between two states, in words, when taking back fails too; the next change %s',
    async (_, fine, end) => {
      let isFull = false;
      const full: OnStep = (step) => {
        if (step.startsWith('place new/d.stp')) isFull = true;
        if (isFull && step !== fine) throw Object.assign(new Error('write'), { code: 'ENOSPC' });
      };
      await expect(applied(full)).rejects.toThrow(/between two states. Nothing is lost/);
      const reading = await FolderFileSet.open(folder);
      expect(await reading.interrupted()).toBe('Changed everything');
      expect((await reading.list()).length).toBeGreaterThan(2);
      isFull = false;
      await FolderFileSet.openToChange(folder);
      expect(await contents()).toEqual(end);
    },
  );

  it.each([
    ['a file that is replaced', /^place a\.stp/, 'a.stp'],
    ['a file that is deleted', /^remove c\.stp/, 'c.stp'],
    ['a place that was free', /^place new\/d\.stp/, 'new/d.stp'],
  ])('loses nothing of what another program saves at the last moment: %s', async (_, step, file) => {
    const saved = rightBefore(step, async () => {
      await mkdir(path.dirname(inside(file)), { recursive: true });
      await writeFile(inside(file), 'theirs');
    });
    const trying = applied(saved);
    await expect(trying).rejects.toThrow(ConflictError);
    await expect(trying).rejects.toThrow(`${file} was saved by another program meanwhile`);
    expect(await contents()).toEqual({ ...BEFORE, [file]: 'theirs' });
    expect(await readFile(inside('.stonetray/kept', hash('theirs')), 'utf8')).toBe('theirs');
    expect(await (await FolderFileSet.open(folder)).history()).toEqual([]);
  });

  it('takes a change back that was cut off, when another program saved one of its files before the next command', async () => {
    const steps: string[] = [];
    await applied((step) => void steps.push(step));
    await rm(folder, { recursive: true, force: true });
    await fill();
    await killedAt(steps.findIndex((step) => step.startsWith('place moved')));
    await writeFile(inside('c.stp'), 'theirs');
    await expect(FolderFileSet.openToChange(folder)).rejects.toThrow('c.stp was saved by another program');
    expect(await contents()).toEqual({ ...BEFORE, 'c.stp': 'theirs' });
    await FolderFileSet.openToChange(folder);
  });

  it('is changed by one at a time: the second waits, and finds what it planned on changed', async () => {
    const [one, other] = [await FolderFileSet.openToChange(folder), await FolderFileSet.openToChange(folder)];
    const results = await Promise.allSettled([one.apply(changeOfAll()), other.apply(changeOfAll())]);
    expect(results.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
    expect(results.find(({ status }) => status === 'rejected')).toMatchObject({
      reason: expect.any(ConflictError),
    });
    expect(await contents()).toEqual(AFTER);
  });

  it('clears up what killed processes left beside the lock, and nothing of those that wait', async () => {
    await mkdir(inside('.stonetray'), { recursive: true });
    const written = (process: number) =>
      JSON.stringify({
        host: os.hostname(),
        process,
        began: '1',
        time: new Date().toISOString(),
        token: crypto.randomUUID(),
      });
    const [dead, elsewhere, empty, other] = [
      crypto.randomUUID(),
      crypto.randomUUID(),
      crypto.randomUUID(),
      'lock-of-mine',
    ];
    await writeFile(inside(`.stonetray/lock-${dead}`), written(2 ** 22 + 1));
    await writeFile(
      inside(`.stonetray/lock-${elsewhere}`),
      written(2 ** 22 + 1).replace(os.hostname(), 'far'),
    );
    await writeFile(inside(`.stonetray/lock-${empty}`), '');
    await writeFile(inside(`.stonetray/${other}`), written(2 ** 22 + 1));
    await (await FolderFileSet.openToChange(folder)).apply({ ...changeOfAll(), changes: [] });
    const left = (await readdir(inside('.stonetray'))).filter((name) => name.startsWith('lock'));
    expect(left.sort()).toEqual([`lock-${elsewhere}`, `lock-${empty}`, other].sort());
  });

  it('takes over the lock of a process that is gone, and one that says nothing', async () => {
    for (const left of [
      '',
      '{"host":"elsewhere"}',
      JSON.stringify({
        host: os.hostname(),
        process: 2 ** 22 + 1,
        began: '1',
        time: new Date().toISOString(),
        token: crypto.randomUUID(),
      }),
    ]) {
      await mkdir(inside('.stonetray'), { recursive: true });
      await writeFile(inside('.stonetray/lock'), left);
      await (await FolderFileSet.openToChange(folder)).apply({ ...changeOfAll(), changes: [] });
    }
    expect(await readdir(inside('.stonetray'))).not.toContain('lock');
  });

  it('takes no damaged content for a good one: that undo is impossible, in words, and nothing else', async () => {
    const files = await FolderFileSet.openToChange(folder);
    await files.apply(changeOfAll());
    const [first] = await files.history();
    await files.apply({ ...changeOfAll(), changes: [write('e.stp', null, bytes('e'))] });
    await chmod(inside('.stonetray/kept', hash('old a')), 0o644);
    await writeFile(inside('.stonetray/kept', hash('old a')), 'damaged');
    await expect(files.planUndo(first!.id)).rejects.toThrow('what a.stp was before is no longer kept');
    await files.apply(await files.planUndo());
    expect(await contents()).toEqual(AFTER);
    // Another change that needs the content keeps it anew, and whole.
    await writeFile(inside('a.stp'), 'old a');
    await files.apply({ ...changeOfAll(), changes: [write('a.stp', hash('old a'), bytes('newer'))] });
    expect(await readFile(inside('.stonetray/kept', hash('old a')), 'utf8')).toBe('old a');
  });

  it('believes nothing of records that came with it', async () => {
    const outside = await mkdtemp(path.join(os.tmpdir(), 'stonetray-outside-'));
    await writeFile(path.join(outside, 'secret'), 'secret');
    const files = await FolderFileSet.openToChange(folder);
    await files.apply(changeOfAll());
    const [{ id }] = (await files.history()) as unknown as [{ id: string }];
    const file = inside('.stonetray/history', `${id}.json`);
    const entry = JSON.parse(await readFile(file, 'utf8'));
    // 1. A content that is a link out of the folder.
    await rm(inside('.stonetray/kept', hash('old a')));
    await symlink(path.join(outside, 'secret'), inside('.stonetray/kept', hash('old a')));
    await expect(files.planUndo()).rejects.toThrow('no longer kept');
    // 2. Hashes and paths that lead elsewhere: the record is none.
    for (const change of [
      { ...entry.changes[0], base: '../../../etc/passwd' },
      { ...entry.changes[0], path: '../out.stp' },
      { ...entry.changes[0], path: '.stonetray/lock' },
    ]) {
      await writeFile(file, JSON.stringify({ ...entry, changes: [change] }));
      expect(await files.history()).toEqual([]);
      await writeFile(inside('.stonetray/journal.json'), JSON.stringify({ ...entry, changes: [change] }));
      await expect(FolderFileSet.openToChange(folder)).rejects.toThrow('journal.json cannot be read');
      await FolderFileSet.open(folder);
      await rm(inside('.stonetray/journal.json'));
    }
    // 3. Records that are a link themselves.
    await rename(inside('.stonetray'), path.join(outside, 'records'));
    await symlink(path.join(outside, 'records'), inside('.stonetray'));
    await expect(applied()).rejects.toThrow('is a symbolic link');
    await rm(outside, { recursive: true });
  });

  it('lets go of old contents when it is asked to, and of what killed commands left', async () => {
    const files = await FolderFileSet.openToChange(folder);
    await files.apply(changeOfAll());
    await writeFile(inside('sub-x'), '');
    const left = inside('moved', `.stonetray-${crypto.randomUUID()}`);
    await writeFile(left, 'left');
    expect(await files.tidy(new Date(Date.now() - 60_000))).toEqual({ contents: 0, bytes: 0 });
    await expect(stat(left)).rejects.toThrow();
    const old = new Date(Date.now() - 10_000);
    for (const name of await readdir(inside('.stonetray/kept')))
      await utimes(inside('.stonetray/kept', name), old, old);
    const dropped = await files.tidy(new Date());
    expect(dropped).toEqual({ contents: 5, bytes: 25 });
    await expect(files.planUndo()).rejects.toThrow('no longer kept');
    expect(await files.history()).toHaveLength(1);
  });

  it('keeps every content that it replaces, and a history', async () => {
    const files = await FolderFileSet.openToChange(folder);
    await files.apply(changeOfAll());
    expect(await readFile(inside('.stonetray/kept', hash('old a')), 'utf8')).toBe('old a');
    expect((await files.history()).map(({ summary }) => summary)).toEqual(['Changed everything']);
    await files.apply(await files.planUndo());
    expect(await contents()).toEqual(BEFORE);
    expect((await readdir(folder)).filter((name) => name.startsWith('.stonetray-'))).toEqual([]);
  });

  it('leaves no empty folder behind, and brings it back', async () => {
    await mkdir(path.join(folder, 'deep/er'), { recursive: true });
    await writeFile(path.join(folder, 'deep/er/only.stp'), 'only');
    await mkdir(path.join(folder, 'mine'));
    const files = await FolderFileSet.openToChange(folder);
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
    const files = await FolderFileSet.openToChange(folder);
    expect(Object.keys(await contents())).not.toContain('link');
    await expect(
      files.apply({ ...changeOfAll(), changes: [write('link/x.stp', null, bytes('x'))] }),
    ).rejects.toThrow('symbolic link');
    expect(await readdir(outside)).toEqual([]);
    await rm(outside, { recursive: true });
  });

  it('says so when it is no folder', async () => {
    await expect(FolderFileSet.open(path.join(folder, 'a.stp'))).rejects.toThrow('is not a folder');
  });
});
