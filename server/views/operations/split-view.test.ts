import { describe, expect, it } from 'vitest';
import { placedBodies } from '#core/geometry/bodies/placed-bodies';
import { IDENTITY } from '#core/product/matrix';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { inFileAssembly } from '#core/testing/in-file-assembly';
import { splitView } from './split-view';

describe('the products of a file', () => {
  it('are told apart where they are called alike', async () => {
    const text = Buffer.from(
      inFileAssembly({
        id: 'TOP',
        parts: [
          { id: 'ONE', boxes: [{ name: 'a' }] },
          { id: 'TWO', boxes: [{ name: 'b' }, { name: 'c', corner: [50, 0, 0] }] },
        ],
        assemblies: [
          {
            id: 'TOP',
            places: [
              ['ONE', IDENTITY],
              ['TWO', IDENTITY],
            ],
          },
        ],
      }),
    ).toString('latin1');
    const alike = Buffer.from(text.replaceAll("'ONE'", "'SOLID'").replaceAll("'TWO'", "'SOLID'"), 'latin1');
    const project = await scanFileSet(new MemoryFileSet([['top.stp', alike]]));
    const { products } = splitView(project, new Map(), 'p', 'top.stp', null);
    const keys = products.map(({ key }) => key);
    expect(new Set(keys).size).toBe(3);
    const [first, second] = products.filter(({ name }) => name.startsWith('SOLID'));
    // Each key leads to the product that it was made of.
    const { scan } = project.files.get('top.stp')!;
    const bodiesOf = (key: string) =>
      placedBodies('top.stp', scan.products, key).bodies.map(({ name }) => name);
    expect([bodiesOf(first!.key), bodiesOf(second!.key)]).toEqual([['a'], ['b', 'c']]);
    expect(splitView(project, new Map(), 'p', 'top.stp', second!.key).bodies).toHaveLength(2);
  });
});
