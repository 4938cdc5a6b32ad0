import { beforeAll, describe, expect, it } from 'vitest';
import { meshBodies } from '#core/geometry/bodies/measure';
import { meshVolume } from '#core/geometry/shape/doubt';
import { finestMesh } from '#core/geometry/shape/solid-mesh';
import { IDENTITY } from '#core/product/matrix';
import { kernel } from '#core/testing/kernel';
import { placedAt, roundBar } from '#core/testing/made-assemblies';
import { boxAt, startModelling, stepOfShapes } from '#core/testing/step-of-shape';
import { hullOf } from './hull';
import { massOf } from './mass';

beforeAll(startModelling);

async function meshed(shape: Parameters<typeof stepOfShapes>[0][number]) {
  const [mesh] = (await meshBodies(kernel, await stepOfShapes([shape]))).values();
  return finestMesh(mesh!);
}

describe('mass and inertia', () => {
  it('are those of the textbook, for a block and for a bar, wherever they stand', async () => {
    const block = { mesh: await meshed(boxAt(20, 40, 60)), volume: 48_000, density: 7850 };
    const one = massOf([{ ...block, placement: placedAt(100, 0, 0) }])!;
    const mass = 0.3768;
    expect(one.mass).toBeCloseTo(mass, 9);
    expect(one.centre.map((value) => Number(value.toFixed(6)))).toEqual([100, 0, 30]);
    const about = (a: number, b: number) => ((mass / 12) * (a * a + b * b)) / 1e6;
    const expected = [about(40, 60), about(20, 60), about(20, 40), 0, 0, 0];
    for (const [n, value] of one.inertia.entries()) expect(value).toBeCloseTo(expected[n]!, 12);
    const bar = {
      mesh: await meshed(roundBar(10, 100)),
      volume: Math.PI * 1e4,
      density: 1000,
      placement: IDENTITY,
    };
    const round = massOf([bar])!;
    expect(round.mass).toBeCloseTo(Math.PI * 1e-2, 9);
    // Triangles lie a little inside of what is round.
    expect(round.inertia[2] / ((round.mass * 100) / 2e6)).toBeCloseTo(1, 1);
    expect(massOf([])).toBeNull();
  });

  it('of several are about the centre that they have together', async () => {
    const ball = { mesh: await meshed(boxAt(10, 10, 10)), volume: 1000, density: 1e6 };
    const pair = massOf([
      { ...ball, placement: placedAt(-50, 0, 0) },
      { ...ball, placement: placedAt(50, 0, 0) },
    ])!;
    expect([pair.mass, ...pair.centre.map((value) => Math.round(value) + 0)]).toEqual([2, 0, 0, 5]);
    const own = (1 * 200) / 12 / 1e6;
    expect(pair.inertia[0]).toBeCloseTo(2 * own, 10);
    expect(pair.inertia[1]).toBeCloseTo(2 * own + 2 * 0.05 ** 2, 10);
  });

  it('go with a hull that holds all of a body', async () => {
    const cross = await meshed(boxAt(60, 10, 10).fuse(boxAt(10, 60, 10)));
    expect(meshVolume(await hullOf(cross))).toBeCloseTo((60 * 60 - (4 * (25 * 25)) / 2) * 10, 3);
  });
});
