import { describe, expect, it } from 'vitest';
import { planOperation } from '#core/operation';
import { operationNamed } from '#core/operations';
import { IDENTITY, type Matrix4, multiply } from '#core/product/matrix';
import { placementOf } from '#core/product/turns';
import type { PlacementForm } from '#core/product/write-components';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { Refusal } from '#core/refusal';
import { boltedUnit } from '#core/testing/bolted-unit';
import { writeBoxPart } from '#core/testing/box-part';
import { kernel } from '#core/testing/kernel';
import { readSetsOutside } from '#core/testing/outside-files';
import { hasOutsideReader } from '#core/testing/outside-reader';
import { bodiesIn } from '#core/testing/placed-bodies';
import { testContext } from '#core/testing/plan-context';
import { testAssembly } from '#core/testing/projects';
import { expectWhole } from '#core/testing/whole-text';
import { placementAfter } from './placements';

const FORMS: PlacementForm[] = ['pair', 'swapped pair', 'mapped item'];
const TOP = 'unit/top.stp';

/** The unit, a longer pin, the washer turned and shifted, and one in inches. */
const project = (form?: PlacementForm): [string, Uint8Array][] => [
  ...boltedUnit(form),
  ['std/long pin.stp', writeBoxPart({ id: 'Long pin', boxes: [{ size: [5, 5, 60], name: 'long' }] })],
  [
    'std/other washer.stp',
    writeBoxPart({ id: 'W2', boxes: [{ corner: [100, 0, 0], size: [1, 9, 9], name: 'upright' }] }),
  ],
  ['std/inch.stp', writeBoxPart({ id: 'Inch', unit: 'in', boxes: [{ size: [1, 1, 1], name: 'inch' }] })],
];

async function change(operation: string, choices: object, entries = project()) {
  const files = new MemoryFileSet(entries);
  const before = await scanFileSet(files);
  const planned = await planOperation(operationNamed(operation)!, await testContext(files, kernel), {
    file: TOP,
    ...choices,
  });
  const undo = await files.apply(planned.change);
  const after = await scanFileSet(files);
  for (const [path, { scan }] of after.files) {
    expect(scan, path).toMatchObject({ error: null, damage: null });
    expectWhole(await files.read(path));
  }
  expect(after.links.every(({ state }) => state === 'sound')).toBe(true);
  const [was, is] = [bodiesIn(before), bodiesIn(after)];
  const gone = was.filter((line) => !is.includes(line));
  const come = is.filter((line) => !was.includes(line));
  return { files, planned, undo, after, gone, come, is };
}
const where = (line: string): Matrix4 => line.split(' | ').at(-1)!.split(' ').map(Number);
/** Lines of bodies of one product, each with the place that it has. */
const placesOf = (lines: readonly string[], product: string) =>
  lines.filter((line) => line.startsWith(`${product} |`)).map(where);

describe.each(FORMS)('in an assembly placed by %s', (form) => {
  it('a file is placed, and placed again by the stand-in that is there', async () => {
    const placed = await change(
      'place',
      { part: 'std/long pin.stp', position: [1, 2, 3], turn: [90, 0, 0] },
      project(form),
    );
    expect(placed.gone).toEqual([]);
    expect(placesOf(placed.come, 'Long pin')).toEqual([[1, 0, 0, 1, 0, 0, -1, 2, 0, 1, 0, 3, 0, 0, 0, 1]]);
    await placed.files.apply(placed.undo);
    expect(await placed.files.read(TOP)).toEqual(Buffer.from(project(form)[0]![1]));
    // The washer stands there already, in the bolt, which is placed twice.
    const again = await change('place', { part: 'std/washer.stp', into: 'Bolt' }, project(form));
    expect(again.planned.preview.occurrences).toEqual(['Washer 2']);
    expect(placesOf(again.come, 'Washer')).toHaveLength(2);
    expect(again.after.files.get(TOP)!.scan.placeholders).toHaveLength(1);
  });

  it('another file takes the place of one, in chosen places, and what is placed by nothing leaves', async () => {
    const one = await change('replace', { occurrences: ['Pin'], part: 'std/long pin.stp' }, project(form));
    expect(placesOf(one.come, 'Long pin').sort()).toEqual(placesOf(one.gone, 'Pin').sort());
    expect(one.gone).toHaveLength(2);
    expect(one.planned.preview).toMatchObject({
      gone: ['Pin'],
      was: { volume: expect.closeTo(1000, 6), bodies: 1, unit: 'mm' },
      now: { volume: expect.closeTo(1500, 6), box: [0, 0, 0, 5, 5, 60].map((n) => expect.closeTo(n, 6)) },
      fits: null,
      assemblies: [TOP],
    });
    expect(Buffer.from(await one.files.read(TOP)).toString('latin1')).not.toContain('shank');
    await one.files.apply(one.undo);
    expect(await one.files.read(TOP)).toEqual(Buffer.from(project(form)[0]![1]));
    // Of the nuts only the one in the frame.
    const nut = one.after.files.get(TOP)!.scan.products.find(({ name }) => name === 'Frame')!.occurrences[0]!;
    const some = await change(
      'replace',
      { occurrences: [String(nut.id)], part: 'std/inch.stp' },
      project(form),
    );
    expect(placesOf(some.come, 'Inch')).toEqual(placesOf(some.gone, 'Nut'));
    expect(some.gone).toHaveLength(1);
    expect(some.planned.preview.gone).toEqual([]);
  });

  it('one of the same shape is laid where the old one is', async () => {
    const { come, gone, planned } = await change(
      'replace',
      { occurrences: ['Washer'], part: 'std/other washer.stp', fit: true },
      project(form),
    );
    expect(planned.preview.fits!.distance).toBeGreaterThan(50);
    expect(gone).toHaveLength(2);
    // Corners of the new box, moved, are corners of the old one.
    const cornersOf = (line: string, corner: number[], size: number[]) =>
      [0, 1, 2, 3, 4, 5, 6, 7]
        .map((n) => {
          const point = [0, 1, 2].map((axis) => corner[axis]! + ((n >> axis) & 1) * size[axis]!);
          const m = where(line);
          return [0, 4, 8].map((r) =>
            (m[r]! * point[0]! + m[r + 1]! * point[1]! + m[r + 2]! * point[2]! + m[r + 3]!).toFixed(6),
          );
        })
        .map((xyz) => xyz.map((value) => (value === '-0.000000' ? '0.000000' : value)).join(' '))
        .sort();
    const now = come.map((line) => cornersOf(line, [100, 0, 0], [1, 9, 9]));
    const was = gone.map((line) => cornersOf(line, [0, 0, 0], [9, 9, 1]));
    expect(now.map(String).sort()).toEqual(was.map(String).sort());
  });

  it('components stand again in a row, and around an axis', async () => {
    const row = await change(
      'place-again',
      { occurrences: ['Plate'], count: 3, step: [0, 0, 10] },
      project(form),
    );
    expect(placesOf(row.come, 'Plate')).toEqual(
      [10, 20].map((z) => multiply(placementOf([0, 0, z], [0, 0, 0]), IDENTITY)),
    );
    const circle = await change(
      'place-again',
      { occurrences: ['Frame'], count: 4, around: { through: [0, 0, 5], axis: [0, 0, 2] } },
      project(form),
    );
    const [before] = placesOf(circle.is, 'Nut').filter(([, , , x, , , , y]) => x === 1 && y === 92);
    expect(before).toBeDefined();
    const expected = [90, 180, 270].map((angle) => multiply(placementOf([0, 0, 0], [0, 0, angle]), before!));
    const places = placesOf(circle.come, 'Nut');
    for (const one of expected)
      expect(places.some((place) => place.every((value, n) => Math.abs(value - one[n]!) < 1e-9))).toBe(true);
    expect(places).toHaveLength(3);
  });

  it('a component stands where it is typed, and as it was turned', async () => {
    const set = await change(
      'set-placement',
      { occurrences: ['Bolt 2'], position: [7, 8, 9], turn: [0, 0, 90] },
      project(form),
    );
    expect(set.gone).toHaveLength(3);
    expect(placesOf(set.come, 'Pin')).toEqual([placementOf([7, 8, 9], [0, 0, 90])]);
    const shifted = await change(
      'set-placement',
      { occurrences: ['Plate', 'Frame'], position: [0, 0, 1], relative: true },
      project(form),
    );
    expect(placesOf(shifted.come, 'Plate')).toEqual([placementOf([0, 0, 1], [0, 0, 0])]);
    expect(placesOf(shifted.come, 'Nut')).toEqual([placementOf([1, 92, 4], [0, 0, 0])]);
  });
});

describe('replacing everywhere', () => {
  const entries = (): [string, Uint8Array][] => [
    [
      'unit/top.stp',
      testAssembly('TOP', [
        { written: 'a.stp', id: 'A', times: 2 },
        { written: 'sub.stp', id: 'SUB' },
      ]),
    ],
    ['unit/sub.stp', testAssembly('SUB', [{ written: 'a.stp', id: 'A', times: 3 }])],
    ['unit/a.stp', writeBoxPart({ id: 'A', boxes: [{ size: [1, 2, 3] }] })],
    ['unit/b.stp', writeBoxPart({ id: 'B', boxes: [{ size: [1, 2, 4] }] })],
  ];

  it('changes every assembly that places it, and says which', async () => {
    const { planned, come, files, after } = await change(
      'replace',
      { occurrences: ['A 1'], part: 'unit/b.stp', everywhere: true },
      entries(),
    );
    expect(placesOf(come, 'B')).toHaveLength(5);
    expect(planned.preview.assemblies).toEqual(['unit/top.stp', 'unit/sub.stp']);
    expect(planned.change.summary).toBe('Replaced A by b.stp in 2 assemblies');
    expect(after.usedBy.get('unit/a.stp')).toBeUndefined();
    expect(after.files.has('unit/a.stp')).toBe(true);
    expect(await files.read('unit/a.stp')).toEqual(Buffer.from(entries()[2]![1]));
  });
});

describe('what cannot be', () => {
  it.each([
    ['place', { part: 'no.stp' }, 'There is no file no.stp.'],
    ['place', { part: TOP }, `${TOP} uses ${TOP} itself: the files would place each other in a loop.`],
    [
      'place',
      { part: 'std/washer.stp', into: 'Nut' },
      'Nut is no assembly in this file: it places nothing here.',
    ],
    ['place', { part: 'std/washer.stp', like: 'Pin' }, 'Pin 1 is in Bolt, not in TOP.'],
    ['place', { part: 'std/washer.stp', position: [1e12, 0, 0] }, /lies too far away/],
    [
      'place-again',
      { occurrences: ['Pin'], count: 2 },
      'Say either the step of a row, or the axis of a circle.',
    ],
    ['place-again', { occurrences: ['Pin'], count: 2, step: [0, 0, 0] }, /With a step of 0 mm/],
    ['place-again', { occurrences: ['Pin'], count: 2, around: { angle: 0 } }, /With an angle of 0°/],
    ['set-placement', { occurrences: ['Pin'] }, 'Say a position or a turn.'],
    ['set-placement', { occurrences: ['Bolt'], position: [0, 0, 0] }, /^2 components would be in one place/],
    ['replace', { occurrences: ['Washer'], part: 'std/washer.stp' }, 'Washer is std/washer.stp already.'],
    [
      'replace',
      { occurrences: ['Pin'], part: 'std/inch.stp', fit: true },
      /^inch\.stp has another shape than Pin/,
    ],
    [
      'replace',
      { occurrences: ['Pin', 'Nut'], part: 'std/inch.stp', everywhere: true },
      'Pin and Nut are different components: choose those of one.',
    ],
  ])('%s %j', async (operation, choices, words) => {
    const error = await change(operation, choices).catch((thrown: unknown) => thrown);
    expect(error).toBeInstanceOf(Refusal);
    if (words instanceof RegExp) expect((error as Refusal).message).toMatch(words);
    else expect((error as Refusal).message).toBe(words);
  });
});

describe('a placement as it is typed', () => {
  const before = placementOf([1, 2, 3], [10, 20, 30]);
  it('keeps what is not said, to the last bit', () => {
    const moved = placementAfter(before, { position: [4, 5, 6], turn: null, relative: false });
    expect(moved.map((value, n) => (n % 4 === 3 && n < 12 ? before[n]! : value))).toEqual(before);
    expect([moved[3], moved[7], moved[11]]).toEqual([4, 5, 6]);
  });
  it('turns about its own origin', () => {
    const turned = placementAfter(before, { position: null, turn: [0, 0, 90], relative: true });
    expect([turned[3], turned[7], turned[11]]).toEqual([1, 2, 3]);
    expect(turned[0]).toBeCloseTo(-before[4]!, 12);
  });
});

describe('a copy of its own', () => {
  const entries = (): [string, Uint8Array][] => [
    ['unit/top.stp', testAssembly('TOP', [{ written: 'subs/sub.stp', id: 'SUB', times: 3 }])],
    ['unit/subs/sub.stp', testAssembly('SUB', [{ written: '../a.stp', id: 'A', times: 2 }])],
    ['unit/a.stp', writeBoxPart({ id: 'A', boxes: [{ size: [1, 2, 3] }] })],
  ];

  it('stands in the chosen places, is called otherwise, and leads where the first one leads', async () => {
    const copied = await change('own-copy', { occurrences: ['SUB 2'] }, entries());
    expect(copied.planned.preview).toMatchObject({ made: 'unit/subs/SUB-assembly-2.stp', gone: [] });
    expect([copied.gone, copied.come]).toEqual([[], []]);
    const { scan } = copied.after.files.get('unit/subs/SUB-assembly-2.stp')!;
    expect(scan.products[0]).toMatchObject({ id: 'SUB-2', name: 'SUB assembly 2' });
    expect(copied.after.uses.get('unit/top.stp')!.map(({ to, occurrences }) => [to, occurrences])).toEqual([
      ['unit/subs/sub.stp', 2],
      ['unit/subs/SUB-assembly-2.stp', 1],
    ]);
    // What is changed there leaves the others.
    const context = await testContext(copied.files, kernel);
    const { change: removal } = await planOperation(operationNamed('take-away')!, context, {
      file: 'unit/subs/SUB-assembly-2.stp',
      occurrences: ['A 1'],
    });
    await copied.files.apply(removal);
    expect(bodiesIn(await scanFileSet(copied.files))).toHaveLength(5);
  });

  it.each([
    [{ occurrences: ['Pin'] }, 'Pin 1 lies in unit/top.stp itself: put it out first.'],
    [{ occurrences: ['Washer', 'Pin'] }, 'Washer 3 and others are different files: choose places of one.'],
  ])('is refused: %j', async (choices, words) => {
    await expect(change('own-copy', choices)).rejects.toThrow(words);
  });
});

describe.skipIf(!hasOutsideReader)('read outside', () => {
  it('what is placed, replaced and turned stands where it should', async () => {
    const placed = await change('place', { part: 'std/inch.stp', position: [100, 0, 0], turn: [0, 0, 45] });
    const fitted = await change('replace', {
      occurrences: ['Washer'],
      part: 'std/other washer.stp',
      fit: true,
    });
    const swapped = await change('replace', { occurrences: ['Pin'], part: 'std/long pin.stp' });
    const circle = await change('place-again', {
      occurrences: ['Plate'],
      count: 3,
      around: { axis: [1, 0, 0], through: [0, 0, -20] },
    });
    const [was, ...views] = await readSetsOutside(
      [new MemoryFileSet(project()), placed.files, fitted.files, swapped.files, circle.files].map((files) => [
        files,
        TOP,
      ]),
    );
    const solidsOf = (view: (typeof views)[0]) =>
      view.solids
        .map(({ volume, centre }) => [volume, ...centre].map((value) => (value + 0).toFixed(1)).join(' '))
        .sort();
    for (const view of [was!, ...views]) expect([view.free, view.fails]).toEqual([1, 0]);
    const before = solidsOf(was!);
    const added = solidsOf(views[0]!).filter((line) => !before.includes(line));
    // A cube of an inch with a corner at the origin, turned by 45° there.
    expect(added).toEqual([`${(25.4 ** 3).toFixed(1)} 100.0 ${(25.4 / Math.SQRT2).toFixed(1)} 12.7`]);
    expect(solidsOf(views[1]!)).toEqual(before);
    expect(solidsOf(views[2]!).filter((line) => line.startsWith('1500.0'))).toHaveLength(2);
    expect(views[3]!.solids).toHaveLength(was!.solids.length + 2);
  });
});
