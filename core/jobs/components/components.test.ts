import { describe, expect, it } from 'vitest';
import { planOperation } from '#core/operation';
import { operationNamed } from '#core/operations';
import { placementOf } from '#core/product/turns';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { Refusal } from '#core/refusal';
import { writeBoxPart } from '#core/testing/box-part';
import { inFileAssembly } from '#core/testing/in-file-assembly';
import { kernel } from '#core/testing/kernel';
import { readSetsOutside } from '#core/testing/outside-files';
import { hasOutsideReader } from '#core/testing/outside-reader';
import { bodiesIn } from '#core/testing/placed-bodies';
import { testContext } from '#core/testing/plan-context';
import { expectWhole } from '#core/testing/whole-text';

const BOXES = [
  { size: [5, 5, 40], name: 'shank', colour: '#00ff00' },
  { size: [9, 9, 4], corner: [-2, -2, 40], name: 'head' },
  { size: [1, 1, 1], corner: [90, 0, 0] },
] as const;

const entries = (): [string, Uint8Array][] => [
  [
    'unit/top.stp',
    inFileAssembly({
      id: 'TOP',
      parts: [{ id: 'Bolt', boxes: [...BOXES], material: 'Steel' }],
      assemblies: [
        {
          id: 'TOP',
          places: [
            ['Bolt', placementOf([10, 0, 0], [0, 0, 0])],
            ['Bolt', placementOf([0, 7, 0], [0, 90, 0])],
          ],
        },
      ],
    }),
  ],
  ['unit/plain.stp', writeBoxPart({ id: 'Plain', unit: 'in', boxes: [...BOXES] })],
];

async function make(choices: object) {
  const files = new MemoryFileSet(entries());
  const planned = await planOperation(
    operationNamed('make-components')!,
    await testContext(files, kernel),
    choices,
  );
  const undo = await files.apply(planned.change);
  const project = await scanFileSet(files);
  const file = (choices as { file: string }).file;
  expectWhole(await files.read(file));
  expect(project.files.get(file)!.scan).toMatchObject({ error: null, damage: null });
  return { files, planned, undo, project };
}
/** Bodies without the part that they are of. */
const bare = (lines: readonly string[]) =>
  lines.map((line) => line.replace(/^[^|]*\| /, '').replace(/\| Steel /, '|  ')).sort();

describe('components of loose bodies', () => {
  it('stand where the bodies stood, as often as their part is placed, with their colours', async () => {
    const before = bodiesIn(await scanFileSet(new MemoryFileSet(entries())));
    const { files, planned, undo, project } = await make({ file: 'unit/top.stp' });
    expect(bare(bodiesIn(project))).toEqual(bare(before));
    const { products } = project.files.get('unit/top.stp')!.scan;
    expect(
      products.map(({ name, bodies, occurrences }) => [name, bodies.length, occurrences.length]),
    ).toEqual(
      expect.arrayContaining([
        ['TOP', 0, 2],
        ['Bolt', 0, 3],
        ['shank', 1, 0],
        ['head', 1, 0],
        ['Bolt 3', 1, 0],
      ]),
    );
    expect(planned.change.summary).toBe('Made 3 components of bodies in top.stp');
    expect(planned.change.warnings).toEqual([
      'Bolt stays of Steel; its new components say nothing of their material yet.',
    ]);
    const text = Buffer.from(await files.read('unit/top.stp')).toString('latin1');
    expect(text.match(/ADVANCED_BREP_SHAPE_REPRESENTATION/g)).toHaveLength(3);
    await files.apply(undo);
    expect(await files.read('unit/top.stp')).toEqual(Buffer.from(entries()[0]![1]));
  });

  it('are only those that are chosen, called as is said', async () => {
    const first = (await scanFileSet(new MemoryFileSet(entries()))).files.get('unit/plain.stp')!.scan
      .products[0]!;
    const [shank, head] = first.bodies;
    const { planned, project } = await make({
      file: 'unit/plain.stp',
      bodies: [head!.id],
      names: { [head!.id]: 'Plain' },
    });
    // The part has that id already.
    expect(planned.preview.components).toMatchObject([{ id: 'Plain-2', name: 'Plain', parent: 'Plain' }]);
    const { scan } = project.files.get('unit/plain.stp')!;
    expect(scan.role).toBe('assembly');
    expect(scan.products.find(({ id }) => id === 'Plain')).toMatchObject({
      bodies: [{ id: shank!.id }, {}],
      occurrences: [{ name: 'Plain' }],
    });
  });

  it.each([
    [{ file: 'unit/no.stp' }, 'There is no file unit/no.stp.'],
    [{ file: 'unit/top.stp', product: 'TOP' }, 'TOP in unit/top.stp has no bodies that could be components.'],
    [{ file: 'unit/plain.stp', bodies: [3] }, 'unit/plain.stp has no loose body #3.'],
    [{ file: 'unit/plain.stp', bodies: [] }, 'Choose the bodies that become components.'],
  ])('refuses %j', async (choices, words) => {
    const error = await make(choices).catch((thrown: unknown) => thrown);
    expect(error).toBeInstanceOf(Refusal);
    expect((error as Refusal).message).toBe(words);
  });

  it.skipIf(!hasOutsideReader)('are read outside as the bodies were', async () => {
    const before = new MemoryFileSet(entries());
    const [made, madePlain] = [await make({ file: 'unit/top.stp' }), await make({ file: 'unit/plain.stp' })];
    const [top, topAfter, plain, plainAfter] = await readSetsOutside([
      [before, 'unit/top.stp'],
      [made.files, 'unit/top.stp'],
      [before, 'unit/plain.stp'],
      [madePlain.files, 'unit/plain.stp'],
    ]);
    for (const [was, after] of [
      [top!, topAfter!],
      [plain!, plainAfter!],
    ] as const) {
      expect([after.free, after.fails]).toEqual([1, 0]);
      expect(after.solids).toHaveLength(was.solids.length);
      for (const [n, { volume, centre }] of was.solids.entries()) {
        expect(after.solids[n]!.volume).toBeCloseTo(volume, 3);
        for (const axis of [0, 1, 2]) expect(after.solids[n]!.centre[axis]).toBeCloseTo(centre[axis]!, 4);
      }
    }
    expect(plainAfter!.parts.find(({ name }) => name === 'shank')?.colour).toBe('GREEN');
  });
});
