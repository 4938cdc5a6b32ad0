import { beforeAll, describe, expect, it } from 'vitest';
import { meshBodies } from '#core/geometry/bodies/measure';
import { IDENTITY } from '#core/product/matrix';
import { kernel } from '#core/testing/kernel';
import { placedAt, roundBar, without } from '#core/testing/made-assemblies';
import { boxAt, startModelling, stepOfShapes } from '#core/testing/step-of-shape';
import { innerFaces } from './inner-faces';

beforeAll(startModelling);

async function meshed(shape: Parameters<typeof stepOfShapes>[0][number]) {
  const [mesh] = (await meshBodies(kernel, await stepOfShapes([shape]))).values();
  return mesh!;
}

describe('faces that nobody reaches', () => {
  it('are those of what is shut in, and of bores that are closed by another part', async () => {
    const cup = await meshed(without(boxAt(40, 40, 40), boxAt(20, 20, 30, [0, 0, 10])));
    const lid = await meshed(boxAt(40, 40, 10));
    const ball = await meshed(roundBar(5, 10));
    const inside = [
      { name: 'cup', mesh: cup, placement: IDENTITY },
      { name: 'pin', mesh: ball, placement: placedAt(0, 0, 15) },
      { name: 'lid', mesh: lid, placement: placedAt(0, 0, 40) },
    ];
    // Five walls of the cup, the pin's three; the cup's rim has a hole in it, the lid's underside tells nothing.
    expect(await innerFaces(inside, 2)).toMatchObject([
      { kind: 'inner faces', count: 9, examples: ['cup: 6 faces', 'pin: 3 faces'] },
    ]);
    expect(await innerFaces(inside.slice(0, 2), 2)).toEqual([]);
  });

  it('are not those where one part only stands on another', async () => {
    const block = await meshed(boxAt(20, 20, 20));
    const stack = [0, 20, 40].map((z) => ({ name: 'block', mesh: block, placement: placedAt(0, 0, z) }));
    expect(await innerFaces(stack, 1)).toEqual([]);
    const bar = await meshed(roundBar(10, 30));
    expect(
      await innerFaces([{ name: 'bar', mesh: bar, placement: placedAt(0, 0, -30) }, ...stack], 1),
    ).toEqual([]);
  });
});
