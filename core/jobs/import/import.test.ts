import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { describe, expect, it } from 'vitest';
import { ZipFile } from 'yazl';
import { MOVE } from '#core/jobs/move/operation';
import { planningOn } from '#core/planning';
import { newContent } from '#core/project/change/change-set';
import { MemoryFileSet } from '#core/project/change/memory';
import type { ReceivedFile } from '#core/project/change/received-file';
import { unpackInMemory } from '#core/project/change/unpack';
import { MANIFEST_NAME } from '#core/project/formats/manifest';
import { scanContent } from '#core/project/scan/content';
import { scanFileSet } from '#core/project/scan/scan';
import { writeBoxPart } from '#core/testing/box-part';
import { gearUnit, testAssembly } from '#core/testing/projects';
import { planImport } from './plan';

const arriving = (path: string, content: Uint8Array): ReceivedFile => ({
  path,
  ...newContent(content),
  read: async () => Buffer.from(content),
});

async function imported(files: MemoryFileSet, received: ReceivedFile[], onConflict = 'replace' as const) {
  const planning = planningOn(await scanFileSet(files), files);
  return planImport(
    {
      ...planning,
      isUntouched: false,
      unpacked: async (zip) => unpackInMemory(await zip.read()),
      scansOf: async (contents) =>
        new Map(contents.map((one) => [one.path, scanContent(one.path, one.content!)])),
    },
    { received, onConflict },
  );
}

describe('names with letters in pieces', () => {
  const [whole, inPieces] = ['Gehäuse é.stp', 'Gehäuse é.stp'.normalize('NFD')];
  const zipWith = async (name: string) => {
    const zip = new ZipFile();
    zip.addBuffer(Buffer.from('x'), name);
    zip.end();
    return buffer(zip.outputStream as Readable);
  };

  it.each<[string, () => Promise<ReceivedFile>]>([
    ['alone', async () => arriving(inPieces, Buffer.from('x'))],
    ['in a zip', async () => arriving('all.zip', await zipWith(inPieces))],
  ])('are written as one here, and that is said: %s', async (_, arrived) => {
    expect(inPieces).not.toBe(whole);
    const { outline, change } = await imported(new MemoryFileSet([]), [await arrived()]);
    expect(change.changes.map(({ path }) => path)).toEqual([whole]);
    expect(outline.conflicts).toEqual([
      { path: whole, outcome: 'letters of its name came in pieces and are whole here' },
    ]);
  });

  it('say nothing where they came whole, or nothing changes', async () => {
    const { outline } = await imported(new MemoryFileSet([]), [arriving('all.zip', await zipWith(whole))]);
    expect(outline.conflicts).toEqual([]);
    const again = await imported(new MemoryFileSet([[whole, 'x']]), [arriving(inPieces, Buffer.from('x'))]);
    expect(again.outline.conflicts).toEqual([]);
    expect(again.outline.unchanged).toBe(1);
  });
});

describe('names that other systems take otherwise', () => {
  const text = (content: string) => Buffer.from(content);

  it.each(['aux.stp', 'a|b.stp', 'ends.in.dot.', 'blank ', 'what?.stp', 'to\u202epts.exe'])(
    'are said, by the rules that renaming has: %j',
    async (name) => {
      const { outline, change } = await imported(new MemoryFileSet([]), [arriving(name, text('x'))]);
      expect(change.changes).toMatchObject([{ path: name }]);
      expect(outline.conflicts).toEqual([
        { path: name, outcome: expect.stringMatching(/^taken as it is, but .*: rename it here$/) },
      ]);
      const files = new MemoryFileSet([['a.stp', 'x']]);
      const renamed = MOVE.plan(planningOn(await scanFileSet(files), files), {
        moves: [{ from: 'a.stp', to: name }],
        withoutEnding: true,
      });
      // What surrounds a typed name is no part of it.
      if (name.trim() === name) expect((await renamed).hindrance).toBeDefined();
    },
  );

  it('are one name where they differ in case or form only, in the project and among what comes', async () => {
    const project = () => new MemoryFileSet([['Parts/Base.stp', 'old']]);
    const newer = await imported(project(), [arriving('parts/base.STP', text('new'))]);
    expect(newer.change.changes).toMatchObject([{ action: 'write', path: 'Parts/Base.stp' }]);
    expect(newer.outline).toMatchObject({
      replaced: ['Parts/Base.stp'],
      conflicts: [
        { path: 'parts/base.STP', outcome: 'the new version of Parts/Base.stp, written otherwise' },
      ],
    });
    const same = await imported(project(), [arriving('parts/base.stp', text('old'))]);
    expect(same.change.changes).toEqual([]);
    expect(same.outline.conflicts).toEqual([
      { path: 'parts/base.stp', outcome: 'is Parts/Base.stp, written otherwise' },
    ]);
    const both = await imported(new MemoryFileSet([]), [
      arriving('a.txt', text('1')),
      arriving('A.txt', text('2')),
    ]);
    expect(both.outline.added).toEqual(['a.txt', 'A-2.txt']);
    expect(both.outline.conflicts).toEqual([{ path: 'A.txt', outcome: 'kept; the new one is A-2.txt' }]);
  });
});

describe('an import, before anything changes', () => {
  it('names the links that come broken, and those that it mends', async () => {
    const { outline } = await imported(gearUnit(), [
      arriving('parts/lid.stp', writeBoxPart({ id: 'LID' })),
      arriving('more/top.stp', testAssembly('TOP', [{ written: 'nowhere.stp', id: 'N' }])),
    ]);
    expect(outline.links.mended).toMatchObject([{ holder: 'drive/drive.stp', to: 'parts/lid.stp' }]);
    expect(outline.links.broken).toMatchObject([
      { holder: 'more/top.stp', written: 'nowhere.stp', state: 'missing' },
    ]);
  });

  it('names a link that a new version of its holder breaks, but none that was broken before', async () => {
    const drive = testAssembly('DRIVE', [
      { written: '..\\parts\\lid.stp', id: 'LID' },
      { written: '../parts/gone.stp', id: 'GONE' },
    ]);
    const { outline } = await imported(gearUnit(), [arriving('drive/drive.stp', drive)]);
    expect(outline.links).toMatchObject({ mended: [], broken: [{ written: '../parts/gone.stp' }] });
  });

  it('names what cannot be read, and takes it all the same', async () => {
    const { outline, change } = await imported(new MemoryFileSet([]), [
      arriving('half.stp', writeBoxPart({ id: 'H' }).subarray(0, 900)),
      arriving('whole.stp', writeBoxPart({ id: 'W' })),
    ]);
    expect(outline.problems).toEqual([
      { path: 'half.stp', problem: expect.stringMatching(/^Cannot be read\. Line/) },
    ]);
    expect(change.changes.map(({ path }) => path)).toEqual(['half.stp', 'whole.stp']);
    expect(outline.added).toEqual(['half.stp', 'whole.stp']);
  });
});

describe('a manifest that arrives where there is one', () => {
  const manifest = (entries: object, version = 1) =>
    Buffer.from(JSON.stringify({ manifest: `stonetray-project/${version}`, outside: [], ...entries }));
  const there = manifest({
    attachments: [
      { file: 'a.html', to: 'x.stp' },
      { file: 'b.html', to: 'x.stp', note: 'older' },
    ],
    standard: [{ folder: 'std' }],
  });
  const merged = async (arrives: Buffer, before = there) => {
    const files = new MemoryFileSet([[MANIFEST_NAME, before]]);
    const { outline, change } = await imported(files, [arriving(MANIFEST_NAME, arrives)]);
    await files.apply(change);
    return { outline, json: JSON.parse(Buffer.from(await files.read(MANIFEST_NAME)).toString()) };
  };

  it('is merged with it, entry by entry', async () => {
    const { outline, json } = await merged(
      manifest({
        attachments: [
          { file: 'b.html', to: 'x.stp', note: 'newer' },
          { file: 'c.html', to: 'x.stp' },
        ],
        standard: [{ folder: 'std' }, { name: 'din*' }],
        ours: 1,
      }),
    );
    expect(json.attachments.map(({ file, note }: { file: string; note?: string }) => [file, note])).toEqual([
      ['a.html', undefined],
      ['b.html', 'newer'],
      ['c.html', undefined],
    ]);
    expect(json.standard).toEqual([{ folder: 'std' }, { name: 'din*' }]);
    expect(json.ours).toBe(1);
    expect(outline.conflicts).toEqual([
      { path: MANIFEST_NAME, outcome: expect.stringMatching(/^entries of both are kept/) },
    ]);
  });

  it.each([
    ['is no JSON', Buffer.from('{'), there, /no JSON/],
    ['is of a newer version', manifest({}, 3), there, /newer version/],
    ['would be written over a newer one', manifest({}), manifest({}, 3), /newer version/],
  ])('is left out when it %s', async (_, arrives, before, words) => {
    const { outline, json } = await merged(arrives, before);
    expect(json).toEqual(JSON.parse(before.toString()));
    expect(outline.conflicts[0]!.outcome).toMatch(words);
  });
});
