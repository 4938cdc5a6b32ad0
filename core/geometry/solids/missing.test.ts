import { beforeAll, describe, expect, it } from 'vitest';
import { meshBodies } from '#core/geometry/bodies/measure';
import { finestMesh, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import { kernel } from '#core/testing/kernel';
import { ring, roundBar } from '#core/testing/made-assemblies';
import { boxAt, startModelling, stepOfShapes } from '#core/testing/step-of-shape';
import { missingIn } from './missing';
import { simplifiedSolid } from './simplified-solid';
import { isClosed, tidiedMesh } from './touching';

beforeAll(startModelling);

async function meshed(shape: Parameters<typeof stepOfShapes>[0][number]): Promise<SolidMesh> {
  const [mesh] = (await meshBodies(kernel, await stepOfShapes([shape]))).values();
  return tidiedMesh(finestMesh(mesh!));
}

describe('what is missing of bodies', () => {
  it('is what is not in the result, and not what meshes differ by', async () => {
    const [plate, foot, tube] = await Promise.all([
      meshed(boxAt(60, 60, 5)),
      meshed(boxAt(10, 10, 10, [20, 20, 5])),
      meshed(ring(10, 9.5, 30, 5)),
    ]);
    const whole = await meshed(boxAt(60, 60, 5).fuse(boxAt(10, 10, 10, [20, 20, 5])));
    expect(await missingIn([plate!, foot!], [whole])).toEqual([]);
    const [lost] = await missingIn([plate!, foot!, tube!], [whole]);
    expect(lost!.map(Math.round)).toEqual([-10, -10, 5, 10, 10, 35]);
    // The same tube, turned: other triangles of one body.
    const turned = await meshed(ring(10, 9.5, 30, 5).rotate(7, [0, 0, 0], [0, 0, 1]));
    expect(await missingIn([tube!], [turned])).toEqual([]);
    expect(await missingIn([plate!], [plate!, turned])).toEqual([]);
  });
});

describe('a mesh with fewer triangles', () => {
  it('stays closed and as near as it may be', async () => {
    const bar = await meshed(roundBar(20, 60).fuse(boxAt(90, 4, 4)));
    const simple = await simplifiedSolid(bar, 0.5);
    expect(simple.triangles.length).toBeLessThan(0.8 * bar.triangles.length);
    expect(isClosed(simple)).toBe(true);
    expect(await simplifiedSolid(bar, 1e-9)).toBe(bar);
  });
});
