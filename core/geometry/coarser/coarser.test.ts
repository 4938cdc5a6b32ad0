import { draw, type Shape3D } from 'replicad';
import { beforeAll, describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { readBoundary } from '#core/geometry/boundary/boundary';
import { writeBoundary } from '#core/geometry/boundary/write-boundary';
import { readTopology } from '#core/geometry/fill/read-topology';
import { readStructure } from '#core/product/structure';
import { kernel } from '#core/testing/kernel';
import { roundBar, without } from '#core/testing/made-assemblies';
import { boxAt, startModelling, stepOfShapes } from '#core/testing/step-of-shape';
import { sharpen } from './sharpen';

beforeAll(startModelling);

const tilted = (shape: Shape3D): Shape3D =>
  shape.clone().rotate(33, [0, 0, 0], [0.36, 0.48, 0.8]).translate([12, -7, 31]) as Shape3D;

/** What the kernel finds in a body before and after its rounds and bevels are taken away. */
async function sharpened(shape: Shape3D, most: number) {
  const step = await stepOfShapes([tilted(shape)]);
  const file = Part21File.read(step);
  const [body] = readStructure(file).products.flatMap(({ bodies }) => bodies);
  const boundary = readBoundary(file, readTopology(file, body!, 1), 1);
  const done = sharpen(boundary, most);
  const text = writeBoundary(file, boundary);
  const [before] = await kernel.shapeBodies(step, [body!.id], { details: 'none', check: true });
  const [after] = await kernel.shapeBodies(text, [body!.id], { details: 'none', check: true });
  if (!before || !('facts' in before) || !after || !('facts' in after))
    throw new Error(`the kernel refused the body: ${JSON.stringify(after)}`);
  expect(after.isValid).toBe(true);
  expect(after.facts.doubt ?? null).toBeNull();
  return { done, before: before.facts, after: after.facts };
}

describe('rounds and bevels', () => {
  it('of a block become its edges', async () => {
    for (const rounded of [boxAt(40, 30, 20).fillet(2), boxAt(40, 30, 20).chamfer(2)]) {
      const { before, after, done } = await sharpened(rounded as Shape3D, 2);
      expect(before.faces).toBe(26);
      expect(after.faces).toBe(6);
      expect(after.volume).toBeCloseTo(40 * 30 * 20, 4);
      expect(done.reduce((sum, { faces }) => sum + faces.length, 0)).toBe(20);
    }
  });

  it('of a stepped shaft become circles', async () => {
    const shaft = roundBar(20, 30).fuse(roundBar(12, 60)) as Shape3D;
    for (const made of [shaft.chamfer(1.5), shaft.fillet(1.5)]) {
      const { before, after } = await sharpened(made as Shape3D, 1.5);
      expect(before.faces).toBeGreaterThan(5);
      expect(after.faces).toBe(5);
      expect(after.volume).toBeCloseTo(Math.PI * (400 * 30 + 144 * 30), 3);
    }
  });

  it('inside and outside a bracket with holes go together', async () => {
    const bracket = draw([0, 0])
      .lineTo([60, 0])
      .lineTo([60, 10])
      .lineTo([10, 10])
      .lineTo([10, 50])
      .lineTo([0, 50])
      .close()
      .sketchOnPlane('XZ')
      .extrude(40) as Shape3D;
    const drilled = without(bracket, roundBar(4, 60, [40, -20, -20]));
    const { before, after } = await sharpened(drilled.fillet(1.5) as Shape3D, 1.5);
    expect(before.faces).toBeGreaterThan(20);
    expect(after.faces).toBe(9);
    expect(after.volume).toBeCloseTo((600 + 400) * 40 - Math.PI * 16 * 10, 3);
  });

  it('that lie on larger ones go first, and larger ones stay', async () => {
    const block = boxAt(40, 30, 20).fillet(6, (edges) => edges.inDirection('Z')) as Shape3D;
    const made = block.fillet(1, (edges) => edges.inPlane('XY', 20)) as Shape3D;
    const small = await sharpened(made, 1);
    expect(small.after.faces).toBe(10);
    expect(small.after.volume).toBeCloseTo((40 * 30 - (4 - Math.PI) * 36) * 20, 3);
    const all = await sharpened(made, 6);
    expect(all.after.faces).toBe(6);
  });
});
