import { draw, drawCircle, type Shape3D } from 'replicad';
import { beforeAll, describe, expect, it } from 'vitest';
import { meshBodies } from '#core/geometry/bodies/measure';
import { kernel } from '#core/testing/kernel';
import { ring, roundBar } from '#core/testing/made-assemblies';
import { boxAt, startModelling, stepOfShapes } from '#core/testing/step-of-shape';
import { slendernessOf } from './slenderness';
import { finestMesh } from './solid-mesh';

beforeAll(startModelling);

async function slenderness(shape: Shape3D): Promise<number> {
  const [mesh] = (await meshBodies(kernel, await stepOfShapes([shape]))).values();
  return slendernessOf(finestMesh(mesh!));
}

describe('slenderness', () => {
  it('is length over thickness of rods and wires, straight or bent', async () => {
    expect(await slenderness(roundBar(2, 200))).toBeCloseTo(50, -1);
    const wire = drawCircle(1.5).translate(30, 0).sketchOnPlane('XZ').revolve([0, 0, 1]) as Shape3D;
    expect(await slenderness(wire)).toBeCloseTo((2 * Math.PI * 30) / 3, -1);
  });

  it('is none for sheets, frames of sheet, blocks, rings and tubes', async () => {
    const angle = draw([0, 0])
      .lineTo([60, 0])
      .lineTo([60, 2])
      .lineTo([2, 2])
      .lineTo([2, 40])
      .lineTo([0, 40])
      .close()
      .sketchOnPlane('XZ')
      .extrude(200) as Shape3D;
    for (const shape of [boxAt(200, 100, 2), angle, boxAt(30, 20, 10), ring(20, 18, 300)])
      expect(await slenderness(shape)).toBe(0);
    // The ring of a bearing is as long as thick as a rod that is bent to it.
    expect(await slenderness(ring(40, 30, 12))).toBeLessThan(30);
  });
});
