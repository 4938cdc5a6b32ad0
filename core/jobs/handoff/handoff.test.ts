import { readFile } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { describe, expect, it } from 'vitest';
import { ZipFile } from 'yazl';
import type { InputLimits } from '#core/files/archive/limits';
import { ArchiveError, type ZipSource } from '#core/files/archive/read-zip';
import { HandOffChoices } from '#core/jobs/handoff/choices';
import type { OnConflict } from '#core/jobs/handoff/on-conflict';
import { planRepair } from '#core/jobs/repair/plan';
import { reportOf } from '#core/jobs/scan/scan-report';
import { planningOn } from '#core/planning';
import { type NamedContent, write } from '#core/project/change/change-set';
import { Draft, listed } from '#core/project/change/draft';
import { MemoryFileSet } from '#core/project/change/memory';
import { unpackInMemory } from '#core/project/change/unpack';
import { scanFileSet } from '#core/project/scan/scan';
import { Refusal } from '#core/refusal';
import { writeBoxPart } from '#core/testing/box-part';
import { gearUnit, testAssembly } from '#core/testing/projects';
import { zipContents } from '#core/testing/zip-contents';
import { type OpenedPackage, openPackage } from './open-package';
import { packageListSchema } from './package-list';
import { planHandOff } from './plan';
import { planUnpack } from './unpack';
import { writePackage } from './write-package';

const NOW = new Date('2026-11-23T10:00:00Z');

async function repairedUnit(): Promise<MemoryFileSet> {
  const files = gearUnit();
  const project = await scanFileSet(files);
  await files.apply(
    await planRepair(planningOn(project, files), [
      { holder: 'drive/drive.stp', written: '..\\parts\\lid.stp', target: 'parts/lid_rev-b.stp' },
      { holder: 'drive/drive.stp', written: '../norm/washer.stp', target: 'std/washer.stp' },
    ]),
  );
  return files;
}

async function pack(
  files: MemoryFileSet,
  options: Partial<HandOffChoices> & { root: string },
): Promise<Buffer> {
  const plan = planHandOff(await scanFileSet(files), HandOffChoices.parse(options));
  return buffer((await writePackage(files, plan, { now: NOW })).zip);
}

async function zipOf(entries: [string, Buffer | string, { mode?: number }?][]): Promise<Buffer> {
  const zip = new ZipFile();
  for (const [path, content, options] of entries)
    zip.addBuffer(Buffer.from(content), path.replaceAll('..', 'DD'), options);
  zip.end();
  // The writer refuses such names; hostile tools do not.
  const bytes = await buffer(zip.outputStream as Readable);
  for (let at = bytes.indexOf('DD'); at >= 0; at = bytes.indexOf('DD', at)) bytes.write('..', at);
  return bytes;
}

describe('a package', () => {
  it('holds what the root needs, nothing else, and opens with every link sound', async () => {
    const opened = await openPackage(await pack(await repairedUnit(), { root: 'unit.stp' }));
    expect(opened.problems).toEqual([]);
    expect([...opened.payload.keys()].sort()).toEqual([
      'drive/drive.stp',
      'parts/base.stp',
      'parts/housing.stp',
      'parts/lid_rev-b.stp',
      'std/screw-m6.stp',
      'std/washer.stp',
      'unit.stp',
    ]);
    expect(opened.list).toMatchObject({ root: 'unit.stp', title: 'unit' });
    expect(reportOf(opened.project).totals).toMatchObject({ sound: 6, missing: 0, occurrences: 11 });
    // The absolute path of another computer is gone.
    expect(opened.project.links.every(({ written }) => !written.includes('C:'))).toBe(true);
  });

  it.each([
    [{ flatten: true }, 'screw-m6.stp'],
    [{ prefix: 'P-', suffix: '_v2' }, 'std/P-screw-m6_v2.stp'],
    [{ flatten: true, prefix: 'Ä ', suffix: '' }, 'Ä screw-m6.stp'],
  ])('renames and rewires with %j', async (options, expected) => {
    const opened = await openPackage(await pack(await repairedUnit(), { root: 'unit.stp', ...options }));
    expect(opened.problems).toEqual([]);
    expect([...opened.payload.keys()]).toContain(expected);
    expect(opened.list!.files.find(({ path }) => path === expected)!.original).toBe('std/screw-m6.stp');
  });

  it('holds what others need that were chosen besides, once, and says why each is in', async () => {
    const project = await scanFileSet(await repairedUnit());
    const plan = (also: string[]) =>
      planHandOff(project, HandOffChoices.parse({ root: 'drive/drive.stp', also }));
    const alone = plan([]).files.map(({ from }) => from);
    const lonely = [...project.files.keys()].find((path) => !alone.includes(path) && path !== 'unit.stp')!;
    const both = plan([lonely, 'unit.stp', 'drive/drive.stp']);
    const of = (root: string) =>
      planHandOff(project, HandOffChoices.parse({ root })).files.map(({ from }) => from);
    expect(both.files.map(({ from }) => from).sort()).toEqual(
      [...new Set([...of('unit.stp'), ...of(lonely)])].sort(),
    );
    expect(both.files.find(({ from }) => from === lonely)!.why).toBe('Chosen besides');
    expect(both.files.find(({ from }) => from === 'drive/drive.stp')!.why).toBe('The assembly itself');
    expect(() => plan(['gone.stp'])).toThrow('There is no file gone.stp.');
  });

  it('numbers names that clash when folders are flattened', async () => {
    const files = new MemoryFileSet([
      [
        'top.stp',
        testAssembly('TOP', [
          { written: 'a/part.stp', id: 'A' },
          { written: 'b/PART.stp', id: 'B' },
        ]),
      ],
      ['a/part.stp', writeBoxPart({ id: 'A' })],
      ['b/PART.stp', writeBoxPart({ id: 'B' })],
    ]);
    const opened = await openPackage(await pack(files, { root: 'top.stp', flatten: true }));
    expect([...opened.payload.keys()]).toEqual(['top.stp', 'part.stp', 'PART-2.stp']);
    expect(opened.project.links.map(({ to }) => to)).toEqual(['part.stp', 'PART-2.stp']);
  });

  it('leaves out folders above all its files, and keeps the originals as they were', async () => {
    const files = await repairedUnit();
    const before = await files.list();
    const opened = await openPackage(await pack(files, { root: 'parts/base.stp' }));
    expect([...opened.payload.keys()]).toEqual(['base.stp']);
    expect(await files.list()).toEqual(before);
  });

  it('lists broken links and refuses what cannot be a name', async () => {
    const project = await scanFileSet(gearUnit());
    expect(
      planHandOff(project, HandOffChoices.parse({ root: 'unit.stp' }))
        .broken.map(({ state }) => state)
        .sort(),
    ).toEqual(['ambiguous', 'missing']);
    expect(() => planHandOff(project, HandOffChoices.parse({ root: 'unit.stp', prefix: '../' }))).toThrow(
      Refusal,
    );
    expect(() => planHandOff(project, HandOffChoices.parse({ root: 'unit.stp', suffix: ':' }))).toThrow(
      Refusal,
    );
    expect(() => planHandOff(project, HandOffChoices.parse({ root: 'none.stp' }))).toThrow(
      'There is no file none.stp',
    );
  });

  it('names every file that does not match its checksum, is missing, or is too many', async () => {
    const zip = await pack(await repairedUnit(), { root: 'unit.stp' });
    const damaged = [...(await zipContents(zip))]
      .filter(([path]) => !path.endsWith('base.stp'))
      .map(([path, content]): [string, Buffer] => [
        path,
        path.endsWith('washer.stp') ? Buffer.concat([content, Buffer.from(' ')]) : content,
      ]);
    damaged.push(['unit/data/extra.txt', Buffer.from('x')]);
    // Records of a folder are nobody else’s business.
    damaged.push(['unit/data/.stonetray/history/x.json', Buffer.from('{}')]);
    const { problems } = await openPackage(await zipOf(damaged));
    expect(problems).toEqual(
      expect.arrayContaining([
        { path: 'data/std/washer.stp', problem: 'Its content does not match its checksum.' },
        { path: 'data/parts/base.stp', problem: 'Is in the manifest but not in the package.' },
        { path: 'data/extra.txt', problem: 'Is in the package but not in the manifest.' },
        {
          path: 'unit/data/.stonetray/history/x.json',
          problem: "Refused: '.stonetray' is a name of Stone Tray’s own records.",
        },
      ]),
    );
  });

  it('has a contents page without scripts, whatever names are like', async () => {
    const name = '<script>alert(1)</script>&"\'.stp';
    const files = new MemoryFileSet([[name, writeBoxPart({ id: 'X' })]]);
    const zip = await pack(files, { root: name });
    for (const [path, content] of await zipContents(zip))
      if (path.endsWith('contents.html')) expect(content.toString()).not.toMatch(/<script/i);
    expect((await openPackage(zip)).problems).toEqual([]);
  });
});

it('publishes the schema that it writes', async () => {
  const published = await readFile(
    new URL('../../../docs/package-list.schema.json', import.meta.url),
    'utf8',
  );
  expect(JSON.parse(published)).toEqual(JSON.parse(JSON.stringify(packageListSchema())));
});

async function unpackOver(there: MemoryFileSet, opened: OpenedPackage, onConflict: OnConflict) {
  const draft = new Draft(there, listed(await there.list()));
  return planUnpack({ draft }, { opened, into: '', onConflict });
}

describe('unpacking', () => {
  const plan = async (onConflict: OnConflict) => {
    const opened = await openPackage(await pack(await repairedUnit(), { root: 'unit.stp' }));
    const there = new MemoryFileSet([
      ['std/washer.stp', 'mine'],
      ['parts/base.stp', (await (await repairedUnit()).read('parts/base.stp')) as Uint8Array],
    ]);
    const unpacked = await unpackOver(there, opened, onConflict);
    await there.apply(unpacked.change);
    return { there, unpacked };
  };

  it('keeps what is there', async () => {
    const { there, unpacked } = await plan('keep');
    expect(Buffer.from(await there.read('std/washer.stp')).toString()).toBe('mine');
    expect(unpacked.conflicts).toHaveLength(1);
  });

  it('replaces what is there', async () => {
    const { there } = await plan('replace');
    expect(reportOf(await scanFileSet(there)).totals).toMatchObject({ missing: 0, sound: 6 });
  });

  it('keeps both, and leads the links of the package to its own file', async () => {
    const { there } = await plan('both');
    expect(Buffer.from(await there.read('std/washer.stp')).toString()).toBe('mine');
    const project = await scanFileSet(there);
    expect(project.links.find(({ written }) => written.includes('washer'))!.to).toBe('std/washer-2.stp');
    expect(reportOf(project).totals.files).toBe(8);
  });
});

describe('unpacking beside files of the same names', () => {
  /** The unit as it was sent, into a folder that holds the same unit with another washer and another base. */
  const unpackBeside = async (onConflict: OnConflict) => {
    const sent = await repairedUnit();
    const opened = await openPackage(await pack(sent, { root: 'unit.stp' }));
    const there = new MemoryFileSet();
    await there.apply((await unpackOver(there, opened, 'keep')).change);
    const mine = writeBoxPart({ id: 'WASHER', boxes: [{ size: [99, 99, 1] }] });
    const base = (await there.list()).find(({ path }) => path === 'std/washer.stp')!.sha256;
    await there.apply({ ...NO_CHANGE, changes: [write('std/washer.stp', base, mine)] });
    const plan = await unpackOver(there, opened, onConflict);
    return { there, plan, before: await scanFileSet(there) };
  };
  const NO_CHANGE = { summary: '', rewires: [], warnings: [] };

  it('keeps both sets whole: a second copy of every file that needs the newcomer, all the way up', async () => {
    const { there, plan, before } = await unpackBeside('both');
    await there.apply(plan.change);
    const after = await scanFileSet(there);
    expect(reportOf(after).roots).toEqual(['unit-2.stp', 'unit.stp']);
    const uses = (path: string) => after.uses.get(path)!.map(({ to }) => to);
    expect(uses('unit-2.stp')).toEqual(['drive/drive-2.stp', 'parts/base.stp']);
    expect(uses('drive/drive-2.stp')).toContain('std/washer-2.stp');
    expect(uses('unit.stp')).toEqual(before.uses.get('unit.stp')!.map(({ to }) => to));
    expect(uses('drive/drive.stp')).toContain('std/washer.stp');
    expect(plan.conflicts.map(({ path }) => path).sort()).toEqual([
      'drive/drive.stp',
      'std/washer.stp',
      'unit.stp',
    ]);
  });

  it('records what it writes, as it is written, and nothing else', async () => {
    const { plan } = await unpackBeside('both');
    expect(plan.change.rewires.map(({ holder, rewritten, to }) => [holder, rewritten, to])).toEqual([
      ['unit-2.stp', 'drive/drive-2.stp', 'drive/drive-2.stp'],
      ['drive/drive-2.stp', '../std/washer-2.stp', 'std/washer-2.stp'],
    ]);
    for (const choice of ['keep', 'replace'] as const)
      expect((await unpackBeside(choice)).plan.change.rewires, choice).toEqual([]);
  });
});

describe('links that are written alike', () => {
  /** A component, and a document of the assembly itself, under one name. */
  const twice = async () => {
    const assembly = Buffer.from(testAssembly('A', [{ written: 'b.stp', id: 'B' }])).toString('latin1');
    const [type] = /#\d+(?==DOCUMENT_TYPE)/.exec(assembly)!;
    const note = `#9001=DOCUMENT_FILE('b.stp','','',${type},'',$);\n`;
    return new MemoryFileSet([
      ['in/a.stp', Buffer.from(assembly.replace('ENDSEC;\nEND-ISO', `${note}ENDSEC;\nEND-ISO`), 'latin1')],
      ['in/b.stp', writeBoxPart({ id: 'B' })],
    ]);
  };

  it('are two by their kind, packed and repaired each', async () => {
    const files = await twice();
    const project = await scanFileSet(files);
    expect(project.links.map(({ kind, to }) => [kind, to])).toEqual([
      ['component', 'in/b.stp'],
      ['attachment', 'in/b.stp'],
    ]);
    const opened = await openPackage(await pack(files, { root: 'in/a.stp', prefix: 'x-' }));
    expect(opened.problems).toEqual([]);
    expect(opened.project.links.map(({ written }) => written)).toEqual(['x-b.stp', 'x-b.stp']);

    const base = project.files.get('in/b.stp')!.sha256;
    await files.apply({
      summary: '',
      changes: [{ action: 'move', path: 'in/b.stp', to: 'in/c.stp', base }],
      rewires: [],
      warnings: [],
    });
    const moved = await scanFileSet(files);
    const both = moved.links.map(({ holder, kind, written }) => ({
      holder: holder,
      kind,
      written,
      target: 'in/c.stp',
    }));
    await files.apply(await planRepair(planningOn(moved, files), both));
    expect(
      (await scanFileSet(files)).links.map(({ kind, written, state }) => [kind, written, state]),
    ).toEqual([
      ['component', 'c.stp', 'sound'],
      ['attachment', 'c.stp', 'sound'],
    ]);
  });
});

describe('papers and resources', () => {
  const drawing = (shown: string, more = '') =>
    Buffer.from(
      `<svg><metadata><dcterms:references>${shown}</dcterms:references>${more}</metadata><image href="frame.png"/></svg>`,
    );
  const withDrawings = async () => {
    const files = gearUnit();
    const alsoUnit = '<dcterms:references>../unit.stp</dcterms:references>';
    return new MemoryFileSet([
      ...(await Promise.all(
        (await files.list()).map(async ({ path }) => [path, await files.read(path)] as const),
      )),
      ['papers/housing.svg', drawing('../parts/housing.stp')],
      ['papers/base.svg', drawing('../parts/base.stp', alsoUnit)],
      ['papers/frame.png', Buffer.from('png')],
      ['box/box.obj', Buffer.from('mtllib box.mtl\n')],
      ['box/box.mtl', Buffer.from('map_Kd plate.png\n')],
      ['box/plate.png', Buffer.from('plate')],
    ]);
  };

  it('belong to what they are about, and are left over with it', async () => {
    const project = await scanFileSet(await withDrawings());
    const { unused } = reportOf(project);
    expect(unused.filter((path) => path.startsWith('papers/'))).toEqual([]);
    expect(unused.filter((path) => path.startsWith('box/'))).toHaveLength(3);
  });

  it('go into a package: resources always, drawings when they are asked for, found by looking backwards', async () => {
    const files = await withDrawings();
    const packed = async (options: Partial<HandOffChoices> & { root: string }) =>
      openPackage(await pack(files, { allowBroken: true, flatten: true, prefix: 'x-', ...options }));
    const box = await packed({ root: 'box/box.obj' });
    expect([...box.payload.keys()].sort()).toEqual(['x-box.mtl', 'x-box.obj', 'x-plate.png']);
    expect(box.project.links.map(({ state }) => state)).toEqual(['sound', 'sound']);
    expect([...(await packed({ root: 'parts/base.stp' })).payload.keys()]).toEqual(['x-base.stp']);

    const drawn = await packed({ root: 'parts/base.stp', drawings: true });
    expect([...drawn.payload.keys()].sort()).toEqual(['x-base.stp', 'x-base.svg', 'x-frame.png']);
    expect(drawn.problems).toEqual([]);
    expect(drawn.list!.files.map(({ why }) => why)).toEqual([
      'The file itself',
      'Drawing of base.stp',
      'Used by base.svg',
    ]);
    const plan = planHandOff(
      await scanFileSet(files),
      HandOffChoices.parse({ root: 'parts/base.stp', drawings: true }),
    );
    expect(plan.notes).toEqual(['unit.stp stays here; base.svg still names it.']);

    // A drawing that is handed over itself takes along what it shows.
    const alone = await packed({ root: 'papers/housing.svg' });
    expect([...alone.payload.keys()].sort()).toEqual(['x-frame.png', 'x-housing.stp', 'x-housing.svg']);
    expect(alone.project.links.map(({ state }) => state)).toEqual(['sound', 'sound']);
  });
});

describe('hostile zips', () => {
  const read = async (zip: ZipSource, limits?: InputLimits) =>
    (await unpackInMemory(zip, limits)).entries.map((entry) =>
      'refused' in entry ? [entry.path, entry.refused] : [entry.path, 'taken'],
    );

  it('refuses paths that leave the folder, and links, and takes the rest', async () => {
    const zip = await zipOf([
      ['../evil.stp', 'x'],
      ['ok/../../evil.stp', 'x'],
      ['link.stp', '/etc/passwd', { mode: 0o120777 }],
      ['fine.stp', 'x'],
    ]);
    expect(await read(zip)).toEqual([
      ['../evil.stp', expect.stringContaining("'..'")],
      ['ok/../../evil.stp', expect.stringContaining("'..'")],
      ['link.stp', 'it is a link'],
      ['fine.stp', 'taken'],
    ]);
  });

  it('stops at a bomb, whatever its directory says', async () => {
    const bomb = await zipOf([
      ['zeros.stp', Buffer.alloc(60_000_000)],
      ['fine.stp', 'x'],
    ]);
    expect(await read(bomb)).toEqual([
      ['zeros.stp', expect.stringContaining('more than 200 times its size')],
      ['fine.stp', 'taken'],
    ]);
    // 10 GB of zeros as declared by the directory: refused before a byte is unpacked.
    const declared = Buffer.from(bomb);
    const entry = declared.indexOf(Buffer.from([0x50, 0x4b, 0x01, 0x02]));
    declared.writeUInt32LE(0xfffffff0, entry + 24);
    expect((await read(declared))[0]![1]).toMatch(/larger than|times its size/);
  });

  it('reads no entries that lie over each other', async () => {
    const noise = Buffer.from(Array.from({ length: 20_000 }, (_, n) => (n * 7919 * 104729) >>> 7));
    const zip = await zipOf([
      ['a.stp', noise],
      ['b.stp', 'x'],
      ['c.stp', 'x'],
    ]);
    const directory = [...zip.keys()].filter(
      (at) => zip.readUInt32LE(Math.min(at, zip.length - 4)) === 0x02014b50,
    );
    // The second and the third are said to be the first once more.
    for (const at of directory.slice(1)) {
      zip.copy(zip, at + 16, directory[0]! + 16, directory[0]! + 28);
      zip.writeUInt32LE(0, at + 42);
    }
    await expect(read(zip)).rejects.toThrow('lie over each other');
  });

  it('counts files and bytes over the whole', async () => {
    const zip = await zipOf([
      ['a.stp', 'xxxx'],
      ['b.stp', 'xxxx'],
    ]);
    const limits = { fileBytes: 100, files: 10, totalBytes: 100, ratio: 200 };
    await expect(read(zip, { ...limits, files: 1 })).rejects.toThrow(ArchiveError);
    await expect(read(zip, { ...limits, totalBytes: 6 })).rejects.toThrow('larger than');
    expect(await read(zip, { ...limits, fileBytes: 3 })).toEqual([
      ['a.stp', expect.stringContaining('larger than')],
      ['b.stp', expect.stringContaining('larger than')],
    ]);
  });

  it('reads a zip that lies elsewhere in pieces, and never one that is longer than it has to', async () => {
    // Noise does not pack.
    let noise = 2463534242;
    const next = () => {
      noise ^= noise << 13;
      noise ^= noise >>> 17;
      noise ^= noise << 5;
      return noise & 255;
    };
    const contents = Array.from({ length: 30 }, (_, n): [string, Buffer] => [
      `${n}.bin`,
      Buffer.from(Array.from({ length: 40_000 }, next)),
    ]);
    const file = new ZipFile();
    for (const [path, content] of contents) file.addBuffer(content, path);
    file.end();
    const zip = await buffer(file.outputStream as Readable);
    let longest = 0;
    const source = {
      bytes: zip.length,
      stream: (from: number, to: number) => {
        longest = Math.max(longest, to - from);
        return Readable.from([zip.subarray(from, to)], { objectMode: false });
      },
    };
    const { entries, read: readOne } = await unpackInMemory(source);
    for (const [n, entry] of entries.entries())
      expect(Buffer.compare(Buffer.from(await readOne(entry as NamedContent)), contents[n]![1])).toBe(0);
    expect(entries).toHaveLength(30);
    expect(longest).toBeLessThan(zip.length / 10);
    expect(
      await read({ ...source, stream: () => Readable.from([], { objectMode: false }) }).catch(String),
    ).toContain('not a zip that can be read');
  });

  it.each([
    ['no zip', Buffer.from('hello')],
    ['an empty file', Buffer.alloc(0)],
    ['a zip cut short', null],
  ])('says what is wrong with %s', async (_, content) => {
    const bytes = content ?? (await zipOf([['a.stp', 'x']])).subarray(0, 40);
    await expect(read(bytes)).rejects.toThrow(ArchiveError);
  });

  it('is no package without a declaration', async () => {
    await expect(openPackage(await zipOf([['a.stp', 'x']]))).rejects.toThrow('no bagit.txt');
  });
});
