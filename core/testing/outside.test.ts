import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { measureBodies } from '#core/geometry/bodies/measure';
import type { CutStep } from '#core/geometry/shape/cut';
import { cutBody } from '#core/geometry/shape/cut-body';
import { CutChoices } from '#core/jobs/cut/choices';
import { kernelUnitOf } from '#core/jobs/cut/pieces';
import { planCut } from '#core/jobs/cut/plan';
import { HandOffChoices } from '#core/jobs/handoff/choices';
import { openPackage } from '#core/jobs/handoff/open-package';
import { planHandOff } from '#core/jobs/handoff/plan';
import { planUnpack } from '#core/jobs/handoff/unpack';
import { writePackage } from '#core/jobs/handoff/write-package';
import { planRenew } from '#core/jobs/repair/renew';
import { type SplitChoices, splitChoices } from '#core/jobs/split/choices';
import { additionsOf } from '#core/jobs/split/newer/additions';
import { outlineFollow } from '#core/jobs/split/newer/outline';
import { followSource } from '#core/jobs/split/newer/plan';
import { openSource, outlineSplit, planSplit } from '#core/jobs/split/plan';
import { planningOn } from '#core/planning';
import { IDENTITY, placementFromAxes } from '#core/product/matrix';
import { write } from '#core/project/change/change-set';
import { Draft, listed } from '#core/project/change/draft';
import { sha256 } from '#core/project/change/file-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { kernel } from '#core/testing/kernel';
import { type BoxToWrite, writeBoxPart } from './box-part';
import { inFileAssembly } from './in-file-assembly';
import { hasOutsideReader, type OutsideView, readOutside } from './outside-reader';
import { testAssembly } from './projects';

/*
 * Every operation, read by somebody else: one shape at the top, no complaint, and the same solids in the same places, with the
 * same colours and names, as its source has there.
 */

const demo = (file: string) => readFileSync(new URL(`../../demo/files/hx-12/${file}`, import.meta.url));

const RED = '#ff0000';
const BOXES: BoxToWrite[] = [
  { name: 'plate', size: [40, 20, 5], colour: '#0000ff', faceColours: { 0: RED, 3: '#00ff00' } },
  {
    name: 'plate 2',
    corner: [100, 0, 0],
    size: [40, 20, 5],
    colour: '#0000ff',
    faceColours: { 0: RED, 3: '#00ff00' },
  },
  { name: 'lower eye', corner: [0, 90, 0], size: [9, 8, 7], faceColours: { 1: RED } },
  { name: 'upper eye', corner: [50, 90, 30], size: [9, 8, 7], faceColours: { 1: RED } },
  { name: 'Bügel "links"', corner: [0, 0, 60], size: [12, 10, 8], colour: '#00ff00' },
];
const weld = (boxes = BOXES, unit: 'mm' | 'in' = 'mm') =>
  writeBoxPart({ id: 'W', name: 'Weldment', boxes, unit });

/** What the reader shows for each solid in place: its name and its colour, and how many faces have which colour. */
function shown({ parts }: OutsideView) {
  const solids: string[] = [];
  const faces: { [colour: string]: number } = {};
  for (const { name, placed, occurrences, solids: own, colour, faces: coloured } of parts) {
    for (const occurrence of occurrences)
      if (own.length === 0) solids.push(`${occurrence || name} ${colour}`);
      else for (const solid of own) solids.push(`${solid.name} ${solid.colour}`);
    for (const [paint, count] of Object.entries(coloured))
      faces[paint] = (faces[paint] ?? 0) + count * placed;
  }
  return { solids: solids.sort(), faces };
}

function expectClean(view: OutsideView, where?: string): void {
  expect({ free: view.free, messages: view.messages }, where).toEqual({ free: 1, messages: [] });
}

function expectSameShape(view: OutsideView, source: OutsideView): void {
  expectClean(view);
  expect(view.solids.length).toBe(source.solids.length);
  view.solids.forEach(({ volume, centre }, n) => {
    const before = source.solids[n]!;
    expect(volume / before.volume).toBeCloseTo(1, 6);
    centre.forEach((value, axis) => expect(value).toBeCloseTo(before.centre[axis]!, 4));
  });
}

function expectSame(view: OutsideView, source: OutsideView): void {
  expectSameShape(view, source);
  expect(shown(view)).toEqual(shown(source));
}

describe.skipIf(!hasOutsideReader)('read by somebody else', () => {
  let folder: string;
  /** Files to look at, by name of the case. */
  const wanted = new Map<string, string>();
  let views: Map<string, OutsideView>;
  const viewOf = (name: string) => views.get(name)!;

  /** Writes a project to disk and remembers the file that is to be looked at. */
  async function put(name: string, files: MemoryFileSet, look: string): Promise<void> {
    const place = path.join(folder, name.replaceAll(/\W/g, '-'));
    for (const entry of await files.list()) {
      const full = path.join(place, entry.path);
      mkdirSync(path.dirname(full), { recursive: true });
      writeFileSync(full, await files.read(entry.path));
    }
    wanted.set(name, path.join(place, look));
  }

  async function split(name: string, files: MemoryFileSet, file: string, given: Partial<SplitChoices> = {}) {
    const source = await openSource(files, file);
    const choices = splitChoices(given);
    const project = await scanFileSet(files);
    const outline = outlineSplit(project, source, choices, await measureBodies(kernel, source));
    await files.apply(await planSplit(planningOn(project, files), { outline, choices }));
    await put(name, files, outline.assembly);
    return outline;
  }

  async function cut(name: string, as: CutChoices['as'], look: string): Promise<void> {
    const files = new MemoryFileSet([
      ['parts/weld.stp', weld()],
      ['top.stp', testAssembly('TOP', [{ written: 'parts/weld.stp', id: 'W', times: 2 }])],
    ]);
    const source = await openSource(files, 'parts/weld.stp');
    const body = source.bodies.find((one) => one.name === 'plate')!;
    const across: CutStep = { piece: '', cutter: { kind: 'plane', at: [15, 0, 0], normal: [1, 0, 0] } };
    const pieces = await cutBody(kernel, source.file.bytes, body.id, [across], kernelUnitOf(source, body));
    const choices = CutChoices.parse({ as });
    await files.apply(
      await planCut(planningOn(await scanFileSet(files), files), { source, body, pieces, choices }),
    );
    await put(name, files, look);
  }

  beforeAll(async () => {
    folder = mkdtempSync(path.join(os.tmpdir(), 'stonetray-outside-test-'));
    const one = (bytes = weld()) => new MemoryFileSet([['weld.stp', bytes]]);
    await put('the source', one(), 'weld.stp');
    await put('a source in inches', one(weld(BOXES, 'in')), 'weld.stp');
    await split('split', one(), 'weld.stp');
    await split('split, a file a body', one(), 'weld.stp', { merge: false });
    await split('split, origin on the body', one(), 'weld.stp', { origin: 'centre' });
    await split('split in one file', one(), 'weld.stp', { inFile: true });
    await split('split in one file, origin on the body', one(), 'weld.stp', {
      inFile: true,
      origin: 'corner',
    });
    await split('split in inches, origin on the body', one(weld(BOXES, 'in')), 'weld.stp', {
      origin: 'centroid',
    });
    await split('split in inches in one file', one(weld(BOXES, 'in')), 'weld.stp', { inFile: true });
    const actuator = () => new MemoryFileSet([['la.stp', demo('bought/actuator-la-300.stp')]]);
    await put('the actuator', actuator(), 'la.stp');
    await split('actuator split, origin on its axis', actuator(), 'la.stp', { origin: 'axis' });

    // An assembly with its parts in the file, one of them in several places.
    const parts = () => new MemoryFileSet([['unit.stp', unit]]);
    const unit = inFileAssembly({
      id: 'UNIT',
      parts: [
        { id: 'bar', boxes: [{ size: [50, 10, 5], colour: RED }] },
        { id: 'pin', boxes: [{ size: [4, 4, 20], faceColours: { 0: RED, 1: '#00ff00' } }] },
      ],
      assemblies: [
        {
          id: 'arm',
          places: [
            ['bar', IDENTITY],
            ['pin', placementFromAxes([5, 0, 5])],
            ['pin', placementFromAxes([45, 0, 5], [1, 0, 0], [0, 1, 0])],
          ],
        },
        {
          id: 'UNIT',
          places: [
            ['arm', placementFromAxes([0, 90, 0])],
            ['arm', placementFromAxes([0, 0, 7], [0, 1, 0], [0, 0, 1])],
          ],
        },
      ],
    });
    await put('an assembly with its parts', parts(), 'unit.stp');
    await split('split assembly', parts(), 'unit.stp');
    await split('split assembly, in one file, origin on the body', parts(), 'unit.stp', {
      inFile: true,
      origin: 'centre',
    });

    // A joined component: two bodies in one file, at an origin of its own.
    const source = await openSource(one(), 'weld.stp');
    const eyes = source.bodies.filter(({ name }) => name.includes('eye')).map(({ id }) => id);
    await split('split with joined bodies', one(), 'weld.stp', { together: [eyes], origin: 'centre' });

    // The source loses its bodies; its users go on with the assembly.
    const used = () =>
      new MemoryFileSet([
        ['parts/weld.stp', weld()],
        ['top.stp', testAssembly('TOP', [{ written: 'parts/weld.stp', id: 'W' }])],
      ]);
    await put('used', used(), 'top.stp');
    const replaced = used();
    await split('split in the place of the source', replaced, 'parts/weld.stp', { rest: 'replace' });
    await put('used after the split', replaced, 'top.stp');
    const plates = source.bodies.filter(({ name }) => name.startsWith('plate')).map(({ id }) => id);
    const robbed = used();
    await split('split off', robbed, 'parts/weld.stp', { rest: 'remove', bodies: plates });
    await put('what is left', robbed, 'parts/weld.stp');

    await cut('cut into bodies', 'bodies', 'top.stp');
    await cut('cut into nested components', 'nested', 'top.stp');
    await cut('cut into components beside it', 'top', 'top.stp');

    // Followed: one body longer, one moved, one new, one gone.
    const followed = one();
    const outline = await split('before following', followed, 'weld.stp');
    const newer = weld([
      { ...BOXES[0]!, size: [44, 20, 5] },
      { ...BOXES[1]!, corner: [110, 0, 0] },
      ...BOXES.slice(2, 4),
      { name: 'new', corner: [200, 0, 0], size: [3, 4, 5], colour: RED },
    ]);
    await followed.apply({
      summary: '',
      changes: [write('weld.stp', sha256(await followed.read('weld.stp')), newer)],
      rewires: [],
      warnings: [],
    });
    const renewedSource = await openSource(followed, 'weld.stp');
    const contents = new Map(
      await Promise.all(
        outline.components.map(async ({ file }) => {
          const part = await openSource(followed, file);
          const measured = await measureBodies(kernel, part);
          return [file, { measured, additions: additionsOf(Part21File.read(part.file.bytes)) }] as const;
        }),
      ),
    );
    const following = outlineFollow(
      await scanFileSet(followed),
      renewedSource,
      await measureBodies(kernel, renewedSource),
      (file) => contents.get(file)!,
    );
    const planning = planningOn(await scanFileSet(followed), followed);
    await followSource(planning, { outline: following, removeGone: true, take: [] });
    await followed.apply(await planning.draft.finish('Followed'));
    await put('followed', followed, outline.assembly);
    await put('the newer source', one(newer), 'weld.stp');

    // Packed under other names, and unpacked.
    const packed = used();
    const plan = planHandOff(
      await scanFileSet(packed),
      HandOffChoices.parse({ root: 'top.stp', flatten: true, prefix: 'x-' }),
    );
    const { zip } = await writePackage(packed, plan, { now: new Date(0) });
    const opened = await openPackage(Buffer.concat(await zip.toArray()));
    const unpacked = new MemoryFileSet();
    const draft = new Draft(unpacked, listed([]));
    await unpacked.apply((await planUnpack({ draft }, { opened, into: '', onConflict: 'keep' })).change);
    await put('packed and unpacked', unpacked, 'x-top.stp');

    // Forms that others do not follow, renewed.
    for (const form of ['associated', 'document id', 'source', 'folder and name', 'document'] as const) {
      const files = new MemoryFileSet([
        ['parts/weld.stp', weld()],
        ['top.stp', testAssembly('TOP', [{ written: 'parts/weld.stp', id: 'W' }], form)],
      ]);
      const renew = await planRenew(planningOn(await scanFileSet(files), files));
      if (renew.changes.length > 0) await files.apply(renew);
      await put(`written as ${form}`, files, 'top.stp');
    }
    const names = [...wanted.keys()];
    const read = readOutside([...wanted.values()]);
    views = new Map(names.map((name, n) => [name, read[n]!]));
  });
  afterAll(async () => {
    rmSync(folder, { recursive: true, force: true });
  });

  it.each([
    ['split', 'the source'],
    ['split, a file a body', 'the source'],
    ['split, origin on the body', 'the source'],
    ['split in one file', 'the source'],
    ['split in one file, origin on the body', 'the source'],
    ['split in inches, origin on the body', 'a source in inches'],
    ['split in inches in one file', 'a source in inches'],
    ['actuator split, origin on its axis', 'the actuator'],
    ['split in the place of the source', 'the source'],
    ['used after the split', 'the source'],
    ['followed', 'the newer source'],
    ['packed and unpacked', 'used'],
    ['written as associated', 'used'],
    ['written as document id', 'used'],
    ['written as source', 'used'],
    ['written as folder and name', 'used'],
    ['written as document', 'used'],
  ])('%s is %s', (name, source) => expectSame(viewOf(name), viewOf(source)));

  it.each(['split assembly', 'split assembly, in one file, origin on the body'])(
    '%s is the assembly, with its colours',
    (name) => {
      const source = viewOf('an assembly with its parts');
      expectSameShape(viewOf(name), source);
      expect(shown(viewOf(name)).faces).toEqual(shown(source).faces);
      expect(viewOf(name).parts.map((part) => [part.name, part.placed, part.colour])).toEqual(
        source.parts.map((part) => [part.name, part.placed, part.colour]),
      );
    },
  );

  // The reader names the solids of a component only where they stand in the file that it was asked for.
  it('bodies that were joined are the source, with its colours', () => {
    expectSameShape(viewOf('split with joined bodies'), viewOf('the source'));
    expect(shown(viewOf('split with joined bodies')).faces).toEqual(shown(viewOf('the source')).faces);
  });

  it('a source that lost bodies, with those, is what it was', () => {
    const [left, off, source] = ['what is left', 'split off', 'the source'].map(viewOf) as OutsideView[];
    expectClean(left!);
    expectClean(off!);
    const volumes = [...left!.solids, ...off!.solids].map(({ volume }) => Math.round(volume));
    expect(volumes.sort()).toEqual(source!.solids.map(({ volume }) => Math.round(volume)).sort());
    expect([...shown(left!).solids, ...shown(off!).solids].sort()).toEqual(shown(source!).solids);
  });

  it.each(['cut into bodies', 'cut into nested components', 'cut into components beside it'])(
    '%s, a body is two pieces of the same volume',
    (name) => {
      const view = viewOf(name);
      expectClean(view);
      expect(view.solids).toHaveLength(12);
      const sum = (from: OutsideView) => from.solids.reduce((total, { volume }) => total + volume, 0);
      expect(sum(view)).toBeCloseTo(2 * sum(viewOf('the source')), 3);
    },
  );
});
