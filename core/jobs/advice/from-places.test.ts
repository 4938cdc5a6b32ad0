import { describe, expect, it } from 'vitest';
import { type Matrix4, placementFromAxes } from '#core/product/matrix';
import { MemoryFileSet } from '#core/project/change/memory';
import { lookAt } from '#core/report';
import type { BoxToWrite } from '#core/testing/box-part';
import { writeBoxPart } from '#core/testing/box-part';
import { inFileAssembly } from '#core/testing/in-file-assembly';
import { kernel } from '#core/testing/kernel';
import { lookContext } from '#core/testing/look-context';
import { testContext } from '#core/testing/plan-context';
import { ADVICE } from './report';

const at = (x: number, y = 0, z = 0): Matrix4 => placementFromAxes([x, y, z]);
const cube = (id: string, size: [number, number, number] = [20, 20, 20]) => ({
  id,
  boxes: [{ size } as BoxToWrite],
});

async function runInto(entries: [string, Uint8Array][]) {
  const files = new MemoryFileSet(entries);
  const { measured, meshes } = await testContext(files, kernel);
  const { data } = await lookAt(ADVICE, { ...lookContext(files), measured, meshes }, {});
  return data.findings.filter(({ kind }) => kind === 'run-into');
}

/** Two cubes of 20 mm, the second moved. */
const twoCubes = (placement: Matrix4) =>
  runInto([
    [
      'top.stp',
      inFileAssembly({
        id: 'TOP',
        parts: [cube('A'), cube('B', [20, 20, 20])],
        assemblies: [
          {
            id: 'TOP',
            places: [
              ['A', at(0)],
              ['B', placement],
            ],
          },
        ],
      }),
    ],
  ]);

describe('bodies that run into each other', () => {
  it('are found with what they have in common, and in which assembly', async () => {
    const [found, ...more] = await twoCubes(at(15, 5, 0));
    expect(more).toEqual([]);
    expect(found).toMatchObject({
      files: ['top.stp'],
      about: 'A and B',
      words: 'A and B have 1,500 mm³ in common in top.stp.',
    });
  });

  it.each([
    ['that only touch', at(20, 5, 0)],
    ['of which one is pressed into the other', at(19.9, 0, 0)],
    ['that are apart', at(25, 0, 0)],
  ])('are not those %s', async (_, placement) => {
    expect(await twoCubes(placement)).toEqual([]);
  });

  it('are not a bolt in the hole that its thread is cut into, but one that goes through the plate', async () => {
    // Four bars around a hole of 8.5 mm, and a square bolt of 10 mm with a head, as a thread is drawn: 0.75 mm on each side.
    const plate = (hole: number): BoxToWrite[] => [
      { size: [40, 20 - hole / 2, 10], corner: [-20, hole / 2, 0] },
      { size: [40, 20 - hole / 2, 10], corner: [-20, -20, 0] },
    ];
    const bolt: BoxToWrite[] = [{ size: [16, 16, 10], corner: [-8, -8, 10] }];
    const shank: BoxToWrite[] = [{ size: [11, 11, 30], corner: [-5.5, -5.5, -20] }];
    const assembly = (hole: number) =>
      runInto([
        [
          'top.stp',
          inFileAssembly({
            id: 'TOP',
            parts: [
              { id: 'Plate', boxes: plate(hole) },
              { id: 'Head', boxes: bolt },
              { id: 'Shank', boxes: shank },
            ],
            assemblies: [
              {
                id: 'TOP',
                places: [
                  ['Plate', at(0)],
                  ['Head', at(0)],
                  ['Shank', at(0)],
                ],
              },
            ],
          }),
        ],
      ]);
    expect(await assembly(9.8)).toEqual([]);
    expect((await assembly(4)).map(({ about }) => about)).toEqual(['Plate and Shank']);
  });

  it('are counted over all places where they stand alike, and told at the assembly that places both', async () => {
    const unit = inFileAssembly({
      id: 'UNIT',
      parts: [cube('A')],
      assemblies: [
        {
          id: 'UNIT',
          places: [
            ['A', at(0)],
            ['B', at(10, 0, 0)],
          ],
        },
      ],
      external: { B: 'b.stp' },
    });
    const top = inFileAssembly({
      id: 'TOP',
      parts: [],
      assemblies: [
        {
          id: 'TOP',
          places: [
            ['UNIT', at(0)],
            ['UNIT', at(0, 100, 0)],
            ['UNIT', at(0, 0, 300)],
          ],
        },
      ],
      external: { UNIT: 'unit.stp' },
    });
    const found = await runInto([
      ['top.stp', top],
      ['unit.stp', unit],
      ['b.stp', writeBoxPart({ id: 'B', boxes: [{ size: [20, 20, 20] }] })],
    ]);
    expect(found.map(({ files, words }) => [files, words])).toEqual([
      [['unit.stp', 'b.stp'], 'A and B have 4,000 mm³ in common in unit.stp at most, at 3 places.'],
    ]);
  });
});
