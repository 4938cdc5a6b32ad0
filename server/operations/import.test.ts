import { randomBytes } from 'node:crypto';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import pg from 'pg';
import { afterAll, describe, expect, it, vi } from 'vitest';
import { ZipFile } from 'yazl';
import { INPUT_LIMITS } from '#core/files/archive/limits';
import { HandOffChoices } from '#core/jobs/handoff/choices';
import type { OnConflict } from '#core/jobs/handoff/on-conflict';
import { planHandOff } from '#core/jobs/handoff/plan';
import { writePackage } from '#core/jobs/handoff/write-package';
import type { ImportOutline } from '#core/jobs/import/plan';
import { reportOf } from '#core/jobs/scan/scan-report';
import { newContent } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
import { unpack } from '#core/project/change/unpack';
import { Refusal } from '#core/refusal';
import { writeBoxPart } from '#core/testing/box-part';
import { gearUnit } from '#core/testing/projects';
import { getBlob } from '#server/db/blobs';
import { closeDatabase, type Database } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import {
  collectUploads,
  dropUpload,
  finishUpload,
  PART,
  receiveFiles,
  receivePart,
  startUpload,
  type UploadOf,
  uploadOf,
} from '#server/projects/files/uploads';
import { loadProject } from '#server/projects/scan/project-scan';
import { operationsIn, testProject } from '#server/testing';

afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

/** Sends a file that is no longer than a part. */
const send = ({ db, of }: { db: Database; of: UploadOf }, path: string, content: Uint8Array) =>
  receivePart(db, of, { path, from: 0, total: content.length }, content);

async function zip(entries: [string, Uint8Array][]): Promise<Buffer> {
  const file = new ZipFile();
  for (const [path, content] of entries) file.addBuffer(Buffer.from(content), path);
  file.end();
  return buffer(file.outputStream as Readable);
}

/** A zip of so many empty files (PKWARE, APPNOTE 4.3), at once: a packer takes minutes for them. */
function zipOfEmpty(count: number): Buffer {
  const [files, directory]: [Buffer[], Buffer[]] = [[], []];
  let offset = 0;
  for (let n = 0; n < count; n++) {
    const name = Buffer.from(`e/${n}`);
    const file = Buffer.alloc(30);
    file.writeUInt32LE(0x04034b50, 0);
    file.writeUInt16LE(20, 4);
    file.writeUInt16LE(name.length, 26);
    const entry = Buffer.alloc(46);
    entry.writeUInt32LE(0x02014b50, 0);
    entry.writeUInt16LE(20, 4);
    entry.writeUInt16LE(20, 6);
    entry.writeUInt16LE(name.length, 28);
    entry.writeUInt32LE(offset, 42);
    files.push(file, name);
    directory.push(entry, name);
    offset += file.length + name.length;
  }
  const listed = Buffer.concat(directory);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(count, 8);
  end.writeUInt16LE(count, 10);
  end.writeUInt32LE(listed.length, 12);
  end.writeUInt32LE(offset, 16);
  return Buffer.concat([...files, listed, end]);
}

type Place = Awaited<ReturnType<typeof testProject>>;

async function open(into?: Place) {
  const place = into ?? (await testProject());
  const owner = { project: place.project, user: place.owner.id };
  const of = { ...owner, upload: await startUpload(place.db, owner) };
  return { ...place, of, ...operationsIn(place.db, owner) };
}

/** Sends files, and looks at what they would change. */
async function sent(files: [string, Uint8Array][], onConflict: OnConflict = 'replace', into?: Place) {
  const place = await open(into);
  for (const [path, content] of files) await send(place, path, content);
  await finishUpload(place.db, place.of);
  const choices = { from: [place.of.upload], onConflict };
  const planned = await place.plan<ImportOutline>('import', choices);
  const take = async () => {
    const done = await place.apply<ImportOutline>('import', choices, planned.result!);
    expect(done).toMatchObject({ state: 'done', error: null });
    return done.result!.preview;
  };
  return { ...place, planned, take };
}

/** Sends files, and imports them. */
async function imported(files: [string, Uint8Array][], onConflict: OnConflict = 'replace', into?: Place) {
  const place = await sent(files, onConflict, into);
  return { ...place, outline: await place.take() };
}

describe('what is sent', () => {
  it('is too much when it is too much together, one file or a handful more', async () => {
    const { db, of } = await open();
    const { totalBytes, files } = INPUT_LIMITS;
    const EMPTY = sha256(Buffer.alloc(0));
    const there = (path: string, bytes: number) => ({ upload_id: of.upload, path, sha256: EMPTY, bytes });
    await send({ db, of }, 'empty.txt', Buffer.alloc(0));
    await db('upload_files').insert(there('much.bin', totalBytes - 3));
    // One file: what has room comes in, a byte more does not.
    const long = await send({ db, of }, 'four.txt', Buffer.from('four'));
    expect(long.refused).toEqual(['four.txt was left out: it is larger than 0 MB.']);
    expect((await send({ db, of }, 'abc.txt', Buffer.from('abc'))).refused).toEqual([]);
    // A handful.
    const one = { path: 'one.txt', content: Buffer.from('1') };
    await expect(receiveFiles(db, of, [one])).rejects.toThrow('too large together');
    await db('upload_files').where({ upload_id: of.upload, path: 'much.bin' }).delete();
    await db.raw(
      `insert into upload_files (upload_id, path, sha256, bytes)
       select ?, 'n' || n, ?, 0 from generate_series(1, ?::int) n`,
      [of.upload, EMPTY, files - 3],
    );
    await expect(receiveFiles(db, of, [one, { ...one, path: 'two.txt' }])).rejects.toThrow('files at most');
    expect(await receiveFiles(db, of, [one])).toEqual([]);
    await expect(send({ db, of }, 'more.txt', Buffer.from('x'))).rejects.toThrow('files at most');
  });
});

describe('what is begun and not sent to its end', () => {
  it('counts beside what is sent, but not beside itself', async () => {
    const { db, of } = await open();
    const { totalBytes } = INPUT_LIMITS;
    const [first] = [randomBytes(PART)];
    const part = { path: 'large.bin', from: 0, total: PART + 10 };
    expect(await receivePart(db, of, part, first!)).toEqual({ there: PART, refused: [] });
    await db('upload_files').insert({
      upload_id: of.upload,
      path: 'much.bin',
      sha256: sha256(Buffer.alloc(0)),
      bytes: totalBytes - PART - 20,
    });
    await send({ db, of }, 'empty.txt', Buffer.alloc(0)).catch(() => {});
    const beside = await send({ db, of }, 'beside.bin', Buffer.alloc(30));
    expect(beside.refused[0]).toContain('it is larger than');
    expect(await receivePart(db, of, { ...part, from: PART }, randomBytes(10))).toEqual({
      there: PART + 10,
      refused: [],
    });
  });

  it('is let go when a person begins too many, and by the clock', async () => {
    const { db, project, owner } = await open();
    const who = { project, user: owner.id };
    const begun: string[] = [];
    for (let n = 0; n < 14; n++) begun.push(await startUpload(db, who));
    const kept = async () => new Set(await db('uploads').where('user_id', owner.id).pluck('id'));
    expect(await kept()).toEqual(new Set(begun.slice(-10)));
    await db('uploads')
      .where('id', begun.at(-1))
      .update({ time: db.raw("now() - interval '2 days'") });
    await collectUploads(db);
    expect(await kept()).toEqual(new Set(begun.slice(-10, -1)));
  });

  it('is refused when all of a person’s uploads are too much together', async () => {
    const { db, project, owner, of } = await open();
    const { totalBytes } = INPUT_LIMITS;
    const empty = sha256(Buffer.alloc(0));
    await send({ db, of }, 'empty.txt', Buffer.alloc(0));
    for (let n = 0; n < 3; n++) {
      const upload = await startUpload(db, { project, user: owner.id });
      await db('upload_files').insert({ upload_id: upload, path: 'a', sha256: empty, bytes: totalBytes - 1 });
    }
    await expect(send({ db, of }, 'b.txt', Buffer.from('b'))).rejects.toThrow('not imported yet');
  });
});

describe('a zip of very many entries', () => {
  it('is refused by what its directory lists, before anything is unpacked', async () => {
    const crowded = zipOfEmpty(60_000);
    const unpacked = vi.fn(async () => newContent(Buffer.alloc(0)));
    await expect(unpack(crowded, unpacked)).rejects.toThrow('60,000 entries; one import takes 20,000');
    const many = zipOfEmpty(30_000);
    await expect(unpack(many, unpacked)).rejects.toThrow('30,000 entries');
    expect(unpacked).not.toHaveBeenCalled();
  });
});

describe('an import', () => {
  it('unpacks a zip anew when what came out of it was collected between the look and the doing', async () => {
    const entries: [string, Uint8Array][] = [
      ['a/one.txt', randomBytes(40)],
      ['a/two.txt', randomBytes(50)],
    ];
    const { db, planned, take, fileSet } = await sent([['some.zip', await zip(entries)]]);
    expect(planned.result!.files).toHaveLength(2);
    const hashes = entries.map(([, content]) => sha256(content));
    await db('task_blobs').whereIn('sha256', hashes).delete();
    expect(await db('blobs').whereIn('sha256', hashes).delete()).toBe(2);
    await take();
    expect((await fileSet.list()).map((file) => file.sha256).sort()).toEqual([...hashes].sort());
    for (const { path, sha256: hash } of await fileSet.list())
      expect(sha256(await fileSet.read(path))).toBe(hash);
  });

  it('shows what becomes of a folder, changes nothing, and then does just that', async () => {
    const files = gearUnit();
    const list = await Promise.all(
      (await files.list()).map(
        async ({ path }): Promise<[string, Uint8Array]> => [path, await files.read(path)],
      ),
    );
    const { planned, take, db, project, fileSet } = await sent([
      ...list,
      ['broken.stp', Buffer.from('no step')],
      ['.DS_Store', Buffer.from('x')],
    ]);
    expect(planned.result!.files).toHaveLength(10);
    expect(planned.result!.preview).toMatchObject({
      unchanged: 0,
      replaced: [],
      problems: [{ path: 'broken.stp', problem: expect.stringContaining('not a STEP file') }],
    });
    expect(planned.result!.preview.links.broken).toHaveLength(2);
    expect(await fileSet.list()).toEqual([]);

    expect(await take()).toEqual(planned.result!.preview);
    expect(reportOf(await loadProject(db, project)).totals).toMatchObject({
      files: 10,
      sound: 4,
      missing: 1,
    });
    // Meshing was asked for, for every content with bodies.
    expect((await db('shapes').where('state', 'waiting')).length).toBeGreaterThanOrEqual(7);
  });

  it('asks the database by the handful, however many small files there are', async () => {
    const { db, project, of, plan, apply } = await open();
    const files = Array.from({ length: 400 }, (_, n) => ({
      path: `f${n % 7}/p${n}.stp`,
      content: writeBoxPart({ id: `P${n}`, boxes: [{ size: [10 + n, 20, 30 + Math.random()] }] }),
    }));
    const asking = vi.spyOn(pg.Client.prototype, 'query');
    const bad = { path: '../out.stp', content: Buffer.from('x') };
    const refused = [expect.stringContaining("../out.stp was left out: the path has a '..' step")];
    expect(await receiveFiles(db, of, [...files.slice(0, 200), bad])).toEqual(refused);
    await receiveFiles(db, of, files.slice(200));
    await finishUpload(db, of);
    expect(await uploadOf(db, of)).toMatchObject({ files: 400, refused });
    const choices = { from: [of.upload] };
    const { result } = await plan<ImportOutline>('import', choices);
    await apply('import', choices, result!);
    // What is asked grows with handfuls and with time, not with files: each file once would be thousands.
    expect(asking.mock.calls.length).toBeLessThan(250);
    asking.mockRestore();
    expect(result!.preview.problems).toEqual([]);
    expect((await loadProject(db, project)).files.size).toBe(400);
    expect(await db('shapes').where('state', 'waiting')).not.toHaveLength(0);
  });

  it('takes a zip, and a package after verifying it', async () => {
    const part = writeBoxPart({ id: 'Z' });
    // The folder that was packed is no part of the paths, unless the project has it: just as one that is picked.
    const zipped = await imported([['stuff.zip', await zip([['a/z.stp', part]])]]);
    expect(zipped.outline.added).toEqual(['z.stp']);

    const source = await testProject(gearUnit());
    const plan = planHandOff(
      await loadProject(source.db, source.project),
      HandOffChoices.parse({ root: 'unit.stp' }),
    );
    const bag = await buffer((await writePackage(source.fileSet, plan, { now: new Date() })).zip);
    const { outline } = await imported([['unit.zip', bag]]);
    expect(outline.added).toContain('drive/drive.stp');
    expect(outline.added.some((path) => path.includes('manifest'))).toBe(false);
    expect(outline.verified).toEqual([{ path: 'unit.zip', files: outline.added.length }]);
  });

  it.each([
    ['replace', [['p.stp', 2]], 0],
    ['keep', [['p.stp', 1]], 1],
    [
      'both',
      [
        ['p-2.stp', 1],
        ['p.stp', 1],
      ],
      1,
    ],
  ] as const)('with %s where a file of the same name is there', async (onConflict, expected, conflicts) => {
    const place = await testProject();
    await imported([['p.stp', writeBoxPart({ id: 'ONE' })]], 'replace', place);
    const { planned, take } = await sent([['p.stp', writeBoxPart({ id: 'TWO' })]], onConflict, place);
    expect(planned.result!.preview.conflicts).toHaveLength(conflicts);
    if (planned.result!.files.length > 0) await take();
    const files = await place.db('files').where('project_id', place.project).orderBy('path');
    expect(files.map(({ path, version }) => [path, version])).toEqual(expected);
  });

  it('meets a change that came between as a conflict, and changes nothing', async () => {
    const place = await testProject();
    const first = await sent([['p.stp', writeBoxPart({ id: 'ONE' })]], 'replace', place);
    await imported([['p.stp', writeBoxPart({ id: 'TWO' })]], 'replace', place);
    const choices = { from: [first.of.upload], onConflict: 'replace' };
    const refused = { state: 'failed', error: expect.stringContaining('Nothing was changed: p.stp') };
    expect(await first.apply('import', choices, first.planned.result!)).toMatchObject(refused);
    expect(await place.db('versions').where('project_id', place.project)).toHaveLength(1);
    // Laid out again, it shows what came between, and does what it shows.
    const again = await first.plan<ImportOutline>('import', choices);
    expect(again.result!.preview).toMatchObject({ added: [], replaced: ['p.stp'] });
    expect(await first.apply('import', choices, again.result!)).toMatchObject({ state: 'done' });
    expect(await place.db('versions').where('project_id', place.project)).toHaveLength(2);
  });

  it.each(['../x.stp', '/etc/x.stp', 'C:\\x.stp', 'a\0b.stp', `${'x'.repeat(300)}.stp`])(
    'refuses the path %j, and remembers why',
    async (path) => {
      const { db, of } = await open();
      expect((await send({ db, of }, path, Buffer.from('x'))).refused).toHaveLength(1);
      await finishUpload(db, of);
      expect(await uploadOf(db, of)).toMatchObject({
        files: 0,
        refused: [expect.stringContaining('left out')],
      });
    },
  );

  it('takes a large file part by part, goes on from where it was cut off, and takes nothing twice', async () => {
    const { db, of, plan } = await open();
    const content = randomBytes(20_000_000);
    const part = (from: number, length = PART, total = content.length) =>
      receivePart(db, of, { path: 'large.bin', from, total }, content.subarray(from, from + length));
    const there = async (...which: Parameters<typeof part>) => (await part(...which)).there;
    expect(await there(0)).toBe(PART);
    // Twice, out of turn, and two at once.
    expect(await there(0)).toBe(PART);
    expect(await there(2 * PART, content.length - 2 * PART)).toBe(PART);
    expect(await Promise.all([there(PART), there(PART)])).toEqual([2 * PART, 2 * PART]);
    expect(await db('upload_files').where('upload_id', of.upload)).toEqual([]);
    expect(await Promise.all([1, 2, 3].map(() => there(2 * PART, content.length - 2 * PART)))).toEqual(
      Array(3).fill(content.length),
    );
    expect(await there(0)).toBe(content.length);
    expect(await db('upload_files').where('upload_id', of.upload).pluck('sha256')).toEqual([sha256(content)]);
    expect(Buffer.compare(await getBlob(db, sha256(content)), content)).toBe(0);
    expect(await db('upload_parts').where('upload_id', of.upload)).toEqual([]);
    await finishUpload(db, of);
    const planned = await plan<ImportOutline>('import', { from: [of.upload] });
    expect(planned.result!.preview).toMatchObject({ added: ['large.bin'] });
  });

  it('leaves a large file out that is too large or whose parts do not fit, and lets go of what was begun', async () => {
    const { db, of } = await open();
    const part = (path: string, from: number, total: number, length: number) =>
      receivePart(db, of, { path, from, total }, Buffer.alloc(length, 7));
    expect(await part('huge.bin', 0, 2 ** 40, PART)).toEqual({
      there: 2 ** 40,
      refused: [expect.stringContaining('huge.bin was left out: it is larger than 512 MB')],
    });
    for (const [from, total, length] of [
      [0, PART + 10, 1000],
      [0, 100, 101],
      [0, 3 * PART, PART + 1],
    ] as const)
      expect((await part('odd.bin', from, total, length)).refused).toEqual([
        expect.stringContaining('do not fit'),
      ]);
    expect((await part('half.bin', 0, 2 * PART, PART)).there).toBe(PART);
    const [begun] = await db('upload_parts').where('upload_id', of.upload).pluck('sha256');
    expect(await db('blob_chunks').where('sha256', begun)).toHaveLength(8);
    await dropUpload(db, of);
    expect(await db('blobs').where('sha256', begun)).toEqual([]);
    await expect(part('half.bin', PART, 2 * PART, PART)).rejects.toThrow('no longer expected');
  });

  it('is not planned from what is not complete, was let go, or is somebody else’s', async () => {
    const { db, of, plan, project } = await open();
    await send({ db, of }, 'x.stp', writeBoxPart({ id: `X${Math.random()}` }));
    const choices = { from: [of.upload] };
    const gone = { state: 'failed', error: expect.stringContaining('Send it again') };
    expect(await plan('import', choices)).toMatchObject(gone);
    await finishUpload(db, of);
    expect(await plan('import', choices)).toMatchObject({ state: 'done' });
    await expect(send({ db, of }, 'y.stp', Buffer.from('y'))).rejects.toThrow(Refusal);
    const other = await testProject();
    const stranger = operationsIn(db, { project, user: other.owner.id });
    expect(await stranger.plan('import', choices)).toMatchObject(gone);
    await dropUpload(db, { ...of, user: other.owner.id });
    const held = await db('upload_files').where('upload_id', of.upload);
    expect(held).toHaveLength(1);
    await dropUpload(db, of);
    expect(await plan('import', choices)).toMatchObject(gone);
  });

  it('changes nothing when something in it cannot be opened', async () => {
    const { planned, fileSet } = await sent([
      ['broken.zip', Buffer.from('no zip')],
      ['y.stp', writeBoxPart({ id: 'Y' })],
    ]);
    expect(planned).toMatchObject({ state: 'failed', error: expect.stringContaining('not a zip') });
    expect(await fileSet.list()).toEqual([]);
  });

  it('lets go of what was sent and never taken in, after a day', async () => {
    const { db, of, project, owner } = await open();
    const content = Buffer.from(`left ${Math.random()}`);
    await send({ db, of }, 'left.txt', content);
    const [{ sha256 }] = await db('upload_files').where('upload_id', of.upload);
    await db('uploads')
      .where('id', of.upload)
      .update({ time: db.raw("now() - interval '2 days'") });
    await startUpload(db, { project, user: owner.id });
    expect(await db('uploads').where('id', of.upload)).toEqual([]);
    expect(await db('blobs').where('sha256', sha256)).toEqual([]);
  });
});
