import { describe, expect, it } from 'vitest';
import { measureBodies } from '#core/geometry/bodies/measure';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { reportOf } from '#core/jobs/scan/scan-report';
import { planningOn } from '#core/planning';
import { IDENTITY, type Matrix4, placementFromAxes } from '#core/product/matrix';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { treeOf } from '#core/project/scan/tree';
import { inFileAssembly } from '#core/testing/in-file-assembly';
import { kernel } from '#core/testing/kernel';
import { testAssembly } from '#core/testing/projects';
import { compareSums, measureWith, sumOfAssembly, sumOfBodies } from './check';
import { type SplitChoices, splitChoices } from './choices';
import { openSource, outlineSplit, planSplit } from './plan';

const at = (x: number, y = 0, z = 0): Matrix4 => placementFromAxes([x, y, z]);
const turned = placementFromAxes([0, 200, 0], [1, 0, 0], [0, 1, 0]);

/** A unit of two arms, each of a bar and two pins; and a base of two bodies. */
const UNIT = () =>
  inFileAssembly({
    id: 'UNIT',
    parts: [
      { id: 'BAR', boxes: [{ name: 'b', size: [50, 10, 5] }] },
      { id: 'PIN', boxes: [{ name: '', size: [4, 4, 20] }] },
      {
        id: 'BASE',
        boxes: [
          { name: 'plate', size: [80, 80, 4] },
          { name: 'post', corner: [0, 0, 4], size: [9, 9, 40] },
        ],
      },
    ],
    assemblies: [
      {
        id: 'ARM',
        places: [
          ['BAR', IDENTITY],
          ['PIN', at(5)],
          ['PIN', at(45, 0, 5)],
        ],
      },
      {
        id: 'UNIT',
        places: [
          ['ARM', at(0, 100)],
          ['ARM', turned],
          ['BASE', IDENTITY],
        ],
      },
    ],
  });

async function split(files: MemoryFileSet, given: Partial<SplitChoices> = {}) {
  const choices = splitChoices(given);
  const source = await openSource(files, 'unit.stp', choices.product);
  const measured = await measureBodies(kernel, source);
  const project = await scanFileSet(files);
  const outline = outlineSplit(project, source, choices, measured);
  const changes = await planSplit(planningOn(project, files), { outline, choices });
  await files.apply(changes);
  const after = await scanFileSet(files);
  const sum = await sumOfAssembly(measureWith(kernel, files), after, outline.assembly);
  return { outline, changes, after, check: compareSums(sumOfBodies(source.bodies, measured), sum!) };
}

describe('an assembly with its parts in the file', () => {
  it('is taken apart, every part at each of its places', async () => {
    const files = new MemoryFileSet([['unit.stp', UNIT()]]);
    const { outline, after, check } = await split(files);
    expect(check).toMatchObject({ isSame: true, after: { bodies: 8 } });
    // Where the structure itself puts the bodies of the source.
    const before = await sumOfAssembly(measureWith(kernel, files), after, 'unit.stp');
    const now = await sumOfAssembly(measureWith(kernel, files), after, outline.assembly);
    expect(compareSums(before!, now!)).toMatchObject({ isSame: true, before: { bodies: 8 } });
    expect(outline.components.map(({ name, group }) => [name, group.members.length])).toEqual([
      ['BAR', 2],
      ['PIN', 4],
      ['plate', 1],
      ['post', 1],
    ]);
    const report = reportOf(after);
    expect(report.roots).toEqual(['unit.stp', 'unit/unit-assembly.stp']);
    expect(report.links.every(({ state }) => state === 'sound')).toBe(true);
    expect(treeOf(after, 'unit/unit-assembly.stp')[0]!.children).toHaveLength(8);
  });

  it.each([{ merge: false }, { origin: 'centre' }, { inFile: true }] as Partial<SplitChoices>[])(
    'keeps every body in its place with %j',
    async (choices) => {
      const { check, outline } = await split(new MemoryFileSet([['unit.stp', UNIT()]]), choices);
      expect(check).toMatchObject({ isSame: true, after: { bodies: 8 } });
      expect(outline.components).toHaveLength(4);
    },
  );

  it('gives one of its products, with what is below it, in coordinates of its own', async () => {
    const files = new MemoryFileSet([['unit.stp', UNIT()]]);
    const { outline, check } = await split(files, { product: 'ARM' });
    expect(check).toMatchObject({ isSame: true, after: { bodies: 3 } });
    expect(outline.components.map(({ name, group }) => [name, group.members.length])).toEqual([
      ['BAR', 1],
      ['PIN', 2],
    ]);
    const assembly = (await scanFileSet(files)).files.get(outline.assembly)!;
    expect(assembly.scan.links.find(({ kind }) => kind === 'source')!.source!.recipe).toEqual({
      operation: 'split',
      choices: { product: 'ARM' },
    });
    expect(new SourcePart('unit.stp', UNIT(), 'BASE').bodies.map(({ name }) => name)).toEqual([
      'plate',
      'post',
    ]);
    expect(() => new SourcePart('unit.stp', UNIT(), 'LID')).toThrow('has no product LID. It has BAR, PIN');
  });

  it('loses its bodies, or gives its place to the assembly', async () => {
    const users = (): MemoryFileSet =>
      new MemoryFileSet([
        ['unit.stp', UNIT()],
        ['top.stp', testAssembly('TOP', [{ written: 'unit.stp', id: 'UNIT' }])],
      ]);
    const replaced = await split(users(), { rest: 'replace' });
    expect(reportOf(replaced.after).totals).toMatchObject({
      missing: 0,
      ambiguous: 0,
      // Those of the new assembly below the top, and those of the source, which nothing uses any more.
      occurrences: 8 + 7,
    });
    expect(reportOf(replaced.after).roots).toEqual(['top.stp', 'unit.stp']);
    const source = await openSource(users(), 'unit.stp');
    const pins = source.bodies.filter(({ name }) => name === 'PIN').map(({ id }) => id);
    const robbed = await split(users(), { rest: 'remove', bodies: [...new Set(pins)] });
    expect(robbed.outline.components.map(({ group }) => group.members.length)).toEqual([4]);
    const left = robbed.after.files.get('unit.stp')!.scan;
    expect(left.products.flatMap(({ bodies }) => bodies)).toHaveLength(3);
    expect(left.damage).toBeNull();
  });

  it('says what lies in other files, and that an assembly of nothing else cannot be split', async () => {
    const mixed = inFileAssembly({
      id: 'MIX',
      parts: [
        { id: 'A', boxes: [{ size: [1, 2, 3] }] },
        { id: 'B', boxes: [{ size: [4, 5, 6] }] },
      ],
      assemblies: [
        {
          id: 'MIX',
          places: [
            ['A', IDENTITY],
            ['B', at(9)],
            ['SCREW', at(20)],
          ],
        },
      ],
      external: { SCREW: 'std/screw.stp' },
    });
    const { changes } = await split(new MemoryFileSet([['unit.stp', mixed]]));
    expect(changes.warnings).toEqual(['SCREW lies in a file of its own and is not in the new assembly.']);
    const others = testAssembly('T', [{ written: 'x.stp', id: 'X' }]);
    expect(() => new SourcePart('t.stp', others)).toThrow('is an assembly of other files');
  });
});
