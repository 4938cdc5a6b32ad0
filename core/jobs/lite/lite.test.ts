import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { makeCylinder, type Shape3D } from 'replicad';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { leaksIn, stringsIn } from '#core/geometry/leaks/leaks';
import { STAND_IN } from '#core/jobs/stand-in/operation';
import { planOperation } from '#core/operation';
import { operationNamed } from '#core/operations';
import { IDENTITY, type Matrix4, placementFromAxes } from '#core/product/matrix';
import { readStructure } from '#core/product/structure';
import { writeAssembly } from '#core/product/write-assembly';
import type { ChangeSet } from '#core/project/change/change-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { MANIFEST_NAME, manifestSchema, readManifest } from '#core/project/formats/manifest';
import { scanFileSet } from '#core/project/scan/scan';
import { Refusal } from '#core/refusal';
import { writeBoxPart } from '#core/testing/box-part';
import { kernel } from '#core/testing/kernel';
import { gearHousing, madeAssembly, needleBearing, roundBar } from '#core/testing/made-assemblies';
import { hasOutsideReader, readOutside } from '#core/testing/outside-reader';
import { testContext } from '#core/testing/plan-context';
import { boxAt as box, startModelling, stepOfShapes } from '#core/testing/step-of-shape';
import { liteChoices } from './choices';
import type { LiteOutline } from './plan';

const shapes = new Map<string, Promise<unknown>>();
const folder = mkdtempSync(path.join(os.tmpdir(), 'stonetray-lite-'));
beforeAll(startModelling);
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
});

const bore = (radius: number, at: [number, number, number]) => makeCylinder(radius, 400, at) as Shape3D;
const at = (x: number, y: number, z: number) => placementFromAxes([x, y, z]) as Matrix4;

/**
 * A box with a lid, and inside a block that nobody reaches; on the lid a knob that is small, and through a slit of 6 mm in the box a rod is seen.
 * The lid has a bolt circle of four holes and one hole more.
 */
async function gearBox(
  lidHoles: [number, number][] = [
    [40, 40],
    [-40, 40],
    [40, -40],
    [-40, -40],
  ],
  inInches = false,
) {
  const shell = box(120, 120, 80)
    .cut(box(100, 100, 75, [0, 0, 5]))
    .cut(box(6, 30, 20, [-58, 0, 30])) as Shape3D;
  const lid = [...lidHoles, [0, 20] as const].reduce(
    (left, [x, y]) => left.cut(bore(x === 0 ? 3 : 4, [x, y, -10])) as Shape3D,
    box(120, 120, 10),
  );
  const parts: [string, string, Matrix4[]][] = [
    ['shell.stp', 'Gear shell', [IDENTITY]],
    ['lid.stp', 'Gear lid', [at(0, 0, 80)]],
    ['secret.stp', 'Secret block', [at(20, 0, 20)]],
    ['knob.stp', 'Knob screw', [at(50, 0, 90)]],
  ];
  return new MemoryFileSet([
    ['shell.stp', await stepOfShapes([shell])],
    ['lid.stp', await stepOfShapes([lid])],
    [
      'secret.stp',
      writeBoxPart({
        id: 'SECRET-77',
        boxes: [{ name: 'hidden heart', size: inInches ? [1, 1, 1] : [25.4, 25.4, 25.4] }],
        unit: inInches ? 'in' : 'mm',
      }),
    ],
    ['knob.stp', writeBoxPart({ id: 'KNOB', boxes: [{ size: [3, 3, 3] }] })],
    [
      'gear.stp',
      writeAssembly({
        id: 'GB-1',
        name: 'Gear box',
        fileName: 'gear.stp',
        timeStamp: '2026-01-01T00:00:00',
        components: parts.map(([written, name, places]) => ({
          id: name.toUpperCase(),
          name,
          written,
          placings: places.map((placement) => ({ name, placement })),
        })),
      }),
    ],
  ]);
}

async function plan(files: MemoryFileSet, given: object) {
  const context = await testContext(files, kernel, shapes);
  return (await planOperation(operationNamed('lite')!, context, { file: 'gear.stp', ...given })) as {
    preview: LiteOutline;
    change: Awaited<ReturnType<typeof context.draft.finish>>;
  };
}

const contentOf = ({ changes }: ChangeSet, name: string) => {
  const found = changes.find((one) => one.path === name);
  if (found?.action !== 'write') throw new Error(`${name} is not written`);
  return found.content!;
};

describe('a lite model', () => {
  it('leaves out what is small, what nobody reaches and what is only seen, each with its reason', async () => {
    const files = await gearBox();
    const all = { smallerThan: 4, hidden: true, gap: 12 };
    const { preview } = await plan(files, all);
    expect(preview.report.removed).toMatchObject({ bySize: ['Knob screw'], hidden: [], seen: [] });
    expect(preview.reach.bodies.map((body) => body.class)).toEqual(['reached', 'reached', 'seen', 'reached']);
    const dropped = await plan(files, { ...all, seen: 'drop' });
    expect(dropped.preview.report).toMatchObject({
      before: { occurrences: 4, distinctParts: 4, bodies: 4 },
      after: { occurrences: 2, distinctParts: 2, bodies: 2 },
      removed: { bySize: ['Knob screw'], seen: ['Secret block'] },
    });
    expect(dropped.preview.report.after.bytes).toBe(contentOf(dropped.change, 'gear-lite.stp').length);
    // A wider gap lets nothing through the slit either, a narrower one lets the ball in.
    expect((await plan(files, { hidden: true, gap: 3 })).preview.reach.bodies[2]!.class).toBe('reached');
    const kept = await plan(files, { ...all, seen: 'drop', keep: ['Secret block'], without: ['Gear lid'] });
    expect(kept.preview.report.removed).toMatchObject({ hand: ['Gear lid'], seen: [] });
    const words = await plan(files, { standard: 'screw, rivet' });
    expect(words.preview.report.removed.standard).toEqual(['Knob screw']);
    const off = await plan(files, { ...all, off: ['size', 'hidden'] });
    expect(off.preview.report.after.bodies).toBe(4);
    expect(off.preview.steps.find(({ step }) => step === 'size')).toMatchObject({
      isOn: false,
      occurrences: 1,
      faces: 6,
    });
  });

  it('fills holes, but none in a face that stays; the box is the same, and what stays is so to the last digit', async () => {
    const files = await gearBox();
    const open = await plan(files, { fill: ['hole', 'counterbore', 'pocket', 'void'] });
    const { report, openings } = open.preview;
    expect(report.removed).toMatchObject({ holes: 5, pockets: 2 });
    expect(report.box.after).toEqual(report.box.before);
    expect(report.volume.after).toBeCloseTo(120 * 120 * 90 + 25.4 ** 3 + 27, 0);
    const lid = [...openings.get('lid.stp')!.bodies.values()][0]!;
    const top = lid.topology.faces.find(
      ({ surface, isSame }) => surface.kind === 'plane' && surface.normal[2] * (isSame ? 1 : -1) > 0.99,
    )!;
    const faces = [{ file: 'lid.stp', face: top.id, name: 'bolt circle' }];
    const kept = await plan(files, { fill: ['hole', 'counterbore', 'pocket', 'void'], keepFaces: faces });
    expect(kept.preview.report.kept).toEqual([{ ...faces[0], identical: true }]);
    expect(kept.preview.report.removed.holes).toBe(0);
    const small = await plan(files, { fill: ['hole'], fillBelow: 7 });
    expect(small.preview.report.removed.holes).toBe(1);
    await expect(plan(files, { keepFaces: [{ file: 'lid.stp', face: 1 }] })).rejects.toThrow(
      'lid.stp has no face #1.',
    );
  });

  it('reads elsewhere as it should, as an assembly and as one part, also of inches and millimetres', async () => {
    const files = await gearBox(undefined, true);
    const made = [
      await plan(files, { fill: ['hole'], without: ['Knob screw'] }),
      await plan(files, { fill: ['hole'], without: ['Knob screw'], form: 'part' }),
    ];
    const paths = made.map(({ change }, n) => {
      const file = path.join(folder, `${n}.stp`);
      writeFileSync(file, contentOf(change, 'gear-lite.stp'));
      return file;
    });
    const own = made.map(
      ({ change }) => readStructure(Part21File.read(contentOf(change, 'gear-lite.stp'))).products,
    );
    expect(own.map((products) => products.length)).toEqual([4, 1]);
    expect(own[1]![0]!.bodies).toHaveLength(3);
    if (!hasOutsideReader) return;
    for (const view of readOutside(paths)) {
      expect(view).toMatchObject({ free: 1, fails: 0 });
      const volumes = view.solids.map(({ volume }) => Math.round(volume));
      expect(volumes).toHaveLength(3);
      expect(volumes[0]).toBe(Math.round(25.4 ** 3));
      expect(volumes[1]).toBe(144_000);
    }
  });

  it('says of what is not there that it goes without, and refuses to be nothing', async () => {
    const files = await gearBox();
    const left = new MemoryFileSet(
      await Promise.all(
        ['gear.stp', 'shell.stp', 'lid.stp', 'secret.stp'].map(
          async (name) => [name, await files.read(name)] as [string, Uint8Array],
        ),
      ),
    );
    const { change } = await plan(left, {});
    expect(change.warnings).toEqual([
      expect.stringContaining('gear.stp places knob.stp, which is not there'),
    ]);
    await expect(plan(left, { smallerThan: 100 })).rejects.toThrow('Nothing would be left.');
    await expect(plan(left, { file: 'nowhere.stp' })).rejects.toThrow(Refusal);
  });

  it('for outside tells no name, carries no tie, and is made again from the manifest', async () => {
    const files = await gearBox();
    const { change, preview } = await plan(files, { outside: true, hidden: true, gap: 12 });
    const bytes = contentOf(change, 'gear-lite.stp');
    const file = Part21File.read(bytes);
    expect(leaksIn(file, 'gear-lite')).toEqual([]);
    for (const name of ['Secret', 'SECRET-77', 'hidden heart', 'Gear shell', 'Gear box', 'GB-1', 'lid.stp'])
      expect([
        name,
        [...stringsIn(file)].some((text) => text.includes(name)),
        Buffer.from(bytes).includes(name),
      ]).toEqual([name, false, false]);
    expect(preview.report.leaks.map(({ kind }) => kind)).toEqual(['inner faces']);
    const open = await plan(files, {});
    expect(open.preview.report.leaks.map(({ kind }) => kind)).toEqual(
      expect.arrayContaining(['names', 'ids', 'recipe']),
    );
    const [tie] = readManifest(contentOf(change, MANIFEST_NAME)).outside;
    expect(tie).toMatchObject({
      file: 'gear-lite.stp',
      operation: 'lite',
      report: { kept: { faces: 0, identical: 0 }, leaks: ['inner faces'] },
      sources: [{ path: 'gear.stp' }, {}, {}, {}, {}],
    });

    await files.apply(change);
    const now = await gearBox([
      [30, 40],
      [-30, 40],
      [30, -40],
      [-30, -40],
    ]);
    await files.apply(await written(files, 'lid.stp', await now.read('lid.stp')));
    const project = await scanFileSet(files);
    expect(project.links.filter(({ state }) => state === 'behind')).toMatchObject([
      { holder: MANIFEST_NAME, to: 'lid.stp', kind: 'source' },
    ]);
    const context = await testContext(files, kernel, shapes);
    const again = await planOperation(operationNamed('follow')!, context, { source: 'lid.stp' });
    expect(again.change.summary).toBe('Brought up to date with lid.stp: 1 file for outside made again');
    await files.apply(again.change);
    expect((await scanFileSet(files)).links.filter(({ state }) => state === 'behind')).toEqual([]);
    expect(Buffer.from(await files.read('gear-lite.stp')).equals(Buffer.from(bytes))).toBe(false);
  });

  it('has the manifest whose schema is published', () => {
    const published = readFileSync(
      new URL('../../../docs/stonetray-project.schema.json', import.meta.url),
      'utf8',
    );
    expect(JSON.parse(published)).toEqual(manifestSchema());
  });

  it('leaves nothing inside: what lies in filled material goes, what ends in it is cut off', async () => {
    const all = { hidden: true, outside: true, fill: ['hole', 'counterbore', 'pocket', 'void'] };
    const planIn = async (files: MemoryFileSet, given: object) => {
      const context = await testContext(files, kernel, shapes);
      const planned = await planOperation(operationNamed('lite')!, context, { file: 'top.stp', ...given });
      return planned as Awaited<ReturnType<typeof plan>>;
    };
    // A bearing becomes a plain disc.
    const bearing = await planIn(await madeAssembly(needleBearing()), all);
    expect(bearing.preview.report.after).toMatchObject({ bodies: 1, faces: 3 });
    expect(bearing.preview.report.leaks).toEqual([]);
    // A gear box: shafts and screws end where they enter it, in one shape for all four screws.
    const files = await madeAssembly(gearHousing());
    const { preview, change } = await planIn(files, all);
    const { report } = preview;
    expect(report.removed.hidden).toEqual(['Inner shaft', 'Gear']);
    expect(report.removed.cut).toEqual(['Through shaft', 'Screw', 'Screw (2)', 'Screw (3)', 'Screw (4)']);
    expect(report.after).toMatchObject({ distinctParts: 4, bodies: 8 });
    expect(report.box.after).toEqual(report.box.before);
    expect(report.leaks).toEqual([]);
    // Its stumps lie beside the housing, not in it: as much as one solid of all.
    const ends = Math.PI * 12 ** 2 * 80 + 4 * Math.PI * 5 ** 2 * 4;
    expect(report.volume.after).toBeCloseTo(120 * 90 * 78 + ends, 0);
    // No radius of a shank, a bore or a gear is left; those of the shaft and of a screw's head are outside.
    const text = Buffer.from(contentOf(change, 'top-lite.stp')).toString('latin1');
    const radii = [...text.matchAll(/(?:CIRCLE|CYLINDRICAL_SURFACE)\('',#\d+,([\d.E+-]+)\)/g)].map(([, r]) =>
      Number(r),
    );
    expect([...new Set(radii.map((radius) => Number(radius.toFixed(6))))].sort((a, b) => a - b)).toEqual([
      5, 12,
    ]);
    // What was drawn inside of a solid part goes, even where its end is flush with the outside.
    const drawn = await madeAssembly([
      { name: 'Block', bodies: [box(60, 60, 40)] },
      { name: 'Flush pin', bodies: [roundBar(5, 20, [0, 0, 20])] },
      { name: 'Stud', bodies: [roundBar(4, 30, [15, 0, 30])] },
    ]);
    const flush = (await planIn(drawn, all)).preview.report;
    expect([flush.removed.hidden, flush.removed.cut, flush.leaks]).toEqual([['Flush pin'], ['Stud'], []]);
    const kept = await planIn(drawn, { ...all, keep: ['Flush pin'] });
    expect(kept.change.warnings).toEqual([expect.stringContaining('Flush pin lies inside of other parts')]);
    const open = await planIn(files, { ...all, outside: false });
    const inner = open.preview.report.leaks.find(({ kind }) => kind === 'inner faces');
    expect(inner?.count).toBeGreaterThan(8);
    expect((await planIn(files, { ...all, outside: false, cutEnds: true })).preview.report.after.bodies).toBe(
      8,
    );
    if (!hasOutsideReader) return;
    const file = path.join(folder, 'cut.stp');
    writeFileSync(file, contentOf(change, 'top-lite.stp'));
    const [view] = readOutside([file]);
    expect(view).toMatchObject({ free: 1, fails: 0 });
    expect(view!.solids).toHaveLength(8);
  });

  it('remembers its recipe, finds its faces again in a later version, and takes the place of the original', async () => {
    const files = await gearBox();
    const first = await plan(files, {});
    const lid = [...first.preview.openings.get('lid.stp')!.bodies.values()][0]!;
    const top = lid.topology.faces.find(
      ({ surface, isSame }) => surface.kind === 'plane' && surface.normal[2] * (isSame ? 1 : -1) > 0.99,
    )!;
    const { change } = await plan(files, {
      fill: ['hole'],
      keepFaces: [{ file: 'lid.stp', face: top.id, name: 'top' }],
    });
    await files.apply(change);

    // The lid gets a hole less and its faces other numbers.
    const later = await gearBox([
      [40, 40],
      [-40, 40],
    ]);
    await files.apply(await written(files, 'lid.stp', await later.read('lid.stp')));
    const behind = (await scanFileSet(files)).links.filter(({ state }) => state === 'behind');
    expect(behind).toMatchObject([{ holder: 'gear-lite.stp', to: 'lid.stp' }]);
    const context = await testContext(files, kernel, shapes);
    const again = await planOperation(operationNamed('follow')!, context, { source: 'lid.stp' });
    expect(again.change.warnings).toEqual([]);
    await files.apply(again.change);
    const made = readStructure(Part21File.read(await files.read('gear-lite.stp')));
    expect(made.products).toHaveLength(5);
    const { links } = await scanFileSet(files);
    expect(links.every(({ state }) => state === 'sound')).toBe(true);
    const tie = links.find(({ holder, to }) => holder === 'gear-lite.stp' && to === 'gear.stp')!;
    const recipe = liteChoices(tie.source!.recipe!.choices as object);
    expect(recipe.keepFaces).toMatchObject([{ file: 'lid.stp', name: 'top' }]);
    expect(tie.source!.recipe!.report).toMatchObject({ kept: { faces: 1, identical: 1 }, boxOff: 0 });

    // Another assembly uses the gear box: the lite one stands in, and gives it back.
    const machine = writeAssembly({
      id: 'M',
      name: 'Machine',
      fileName: 'machine.stp',
      timeStamp: '2026-01-01T00:00:00',
      components: [
        {
          id: 'GB-1',
          name: 'Gear box',
          written: 'gear.stp',
          placings: [{ name: 'Gear box', placement: IDENTITY }],
        },
      ],
    });
    await files.apply(await written(files, 'machine.stp', machine));
    const swap = async (file: string) => {
      const planned = await planOperation(STAND_IN, await testContext(files, kernel, shapes), { file });
      await files.apply(planned.change);
      const project = await scanFileSet(files);
      return project.uses.get('machine.stp')!.map(({ to, state }) => [to, state]);
    };
    expect(await swap('gear.stp')).toEqual([['gear-lite.stp', 'sound']]);
    expect(await swap('gear-lite.stp')).toEqual([['gear.stp', 'sound']]);

    // Or in one of its assemblies only.
    await files.apply(await written(files, 'second.stp', machine));
    const choices = { file: 'gear.stp', in: 'second.stp' };
    const one = await planOperation(STAND_IN, await testContext(files, kernel, shapes), choices);
    expect(one.change.changes.map(({ path }) => path)).toEqual(['second.stp']);
    await expect(
      planOperation(STAND_IN, await testContext(files, kernel, shapes), { ...choices, in: 'shell.stp' }),
    ).rejects.toThrow('shell.stp does not place gear.stp');

    // A lid of another kind has no such face any more: nothing is made, and it is said what to do.
    await files.apply(await written(files, 'lid.stp', await stepOfShapes([box(3, 3, 300)])));
    const unlike = await testContext(files, kernel, shapes);
    await expect(planOperation(operationNamed('follow')!, unlike, { source: 'lid.stp' })).rejects.toThrow(
      'The face “top” of lid.stp that shall stay is not there any more',
    );
  });
});

async function written(files: MemoryFileSet, name: string, content: Uint8Array) {
  const context = await testContext(files, kernel, shapes);
  context.draft.write(name, content);
  return context.draft.finish(`Wrote ${name}`);
}
