import fc from 'fast-check';
import { draw, type Shape3D } from 'replicad';
import { beforeAll, describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { geometryOf } from '#core/geometry/bodies/measure';
import { readTopology } from '#core/geometry/fill/read-topology';
import { explored } from '#core/geometry/shape/occt-explore';
import { writeStep } from '#core/geometry/shape/occt-step';
import { trianglesByFace } from '#core/geometry/shape/solid-mesh';
import { readStructure } from '#core/product/structure';
import { kernel } from '#core/testing/kernel';
import { roundBar, without } from '#core/testing/made-assemblies';
import { boxAt, startModelling, stepOfShapes } from '#core/testing/step-of-shape';
import { type Coarser, coarsen } from './coarsen';

beforeAll(startModelling);

const tilted = (shape: Shape3D): Shape3D =>
  shape.clone().rotate(33, [0, 0, 0], [0.36, 0.48, 0.8]).translate([12, -7, 31]) as Shape3D;

/** What the kernel finds in a body before and after it is made coarser. */
async function coarsened(made: Shape3D | Uint8Array, choices: Partial<Coarser>) {
  const step = made instanceof Uint8Array ? made : await stepOfShapes([tilted(made)]);
  const file = Part21File.read(step);
  const [body] = readStructure(file).products.flatMap(({ bodies }) => bodies);
  const [before] = await kernel.shapeBodies(step, [body!.id], { details: 'none' });
  if (!before || !('facts' in before)) throw new Error('the kernel refused the body');
  const topology = readTopology(file, body!, 1);
  const triangles = trianglesByFace(await geometryOf(before.mesh!));
  const coarser = { edges: null, slots: null, join: false, ...choices };
  const done = coarsen({ file, topology, millimetres: 1 }, triangles, coarser);
  if (!done) return { done, before: before.facts, after: before.facts };
  const [after] = await kernel.shapeBodies(done.bytes, [body!.id], { details: 'none', check: true });
  if (!after || !('facts' in after)) throw new Error(`the kernel refused it: ${JSON.stringify(after)}`);
  expect(after.isValid).toBe(true);
  expect(after.facts.doubt ?? null).toBeNull();
  const off = after.facts.box.map((value, n) => Math.abs(value - before.facts.box[n]!));
  return { done, before: before.facts, after: after.facts, off: Math.max(...off) };
}
const sharpened = (shape: Shape3D, edges: number) => coarsened(shape, { edges });

describe('rounds and bevels', () => {
  it('of a block become its edges', async () => {
    for (const rounded of [boxAt(40, 30, 20).fillet(2), boxAt(40, 30, 20).chamfer(2)]) {
      const { before, after, done } = await sharpened(rounded as Shape3D, 2);
      expect(before.faces).toBe(26);
      expect(after.faces).toBe(6);
      expect(after.volume).toBeCloseTo(40 * 30 * 20, 4);
      expect(done?.edges).toBe(20);
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

  it('that are interrupted go as well', async () => {
    const bevelled = boxAt(80, 60, 10).chamfer(1, (edges) => edges.inPlane('XY', 10)) as Shape3D;
    const { after } = await sharpened(without(bevelled, boxAt(6, 100, 4, [25, 0, 6])), 1);
    expect(after.faces).toBe(10);
    expect(after.volume).toBeCloseTo(80 * 60 * 10 - 6 * 60 * 4, 4);
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

describe('slots, notches and grooves', () => {
  const closed = (shape: Shape3D, most: number | 'all' = 'all') => coarsened(shape, { slots: most });

  it('over an edge, over a corner of two edges, and across a block are filled', async () => {
    const block = boxAt(60, 40, 20);
    const notched = without(
      block,
      boxAt(10, 10, 8, [0, -20, 12]), // a notch in an edge
      boxAt(4, 60, 3, [20, 0, 17]), // a slot right across
      roundBar(3, 60, [-30, 5, -20]), // half a hole in an edge of the end
    );
    const { before, after, done } = await closed(notched);
    expect(before.faces).toBeGreaterThan(12);
    expect(done?.slots).toBe(3);
    expect(after.faces).toBe(6);
    expect(after.volume).toBeCloseTo(60 * 40 * 20, 4);
  });

  it('stay where they are wider than asked for', async () => {
    const notched = without(boxAt(60, 40, 20), boxAt(10, 10, 8, [0, -20, 12]), boxAt(4, 60, 3, [20, 0, 17]));
    const { after, done } = await closed(notched, 5);
    expect(done?.slots).toBe(1);
    expect(after.volume).toBeCloseTo(60 * 40 * 20 - 10 * 5 * 8, 4);
  });

  it('around a shaft, and a key’s slot at its end, are filled', async () => {
    const shaft = roundBar(20, 100);
    const ring = without(roundBar(30, 4, [0, 0, 30]), roundBar(17, 4, [0, 0, 30]));
    const keyed = without(shaft, ring, boxAt(8, 6, 30, [0, 18, 85]));
    const { after, done } = await closed(keyed);
    expect(done?.slots).toBe(2);
    expect(after.faces).toBe(3);
    expect(after.volume).toBeCloseTo(Math.PI * 400 * 100, 3);
  });

  it('between fins are filled, with the holes in their floors', async () => {
    let sink = boxAt(60, 40, 20);
    for (let n = 0; n < 6; n++) sink = without(sink, boxAt(4, 60, 14, [-22 + 9 * n, 0, 6]));
    sink = without(sink, roundBar(1.5, 60, [-22, 0, -20]));
    const { before, after, done } = await closed(sink);
    expect(before.faces).toBeGreaterThan(23);
    expect(done?.slots).toBe(6);
    expect(after.faces).toBe(6);
    expect(after.volume).toBeCloseTo(60 * 40 * 20, 4);
  });

  it('leave an angle, a step and a plain block as they are', async () => {
    const step = without(boxAt(60, 40, 20), boxAt(40, 60, 20, [20, 0, 10]));
    for (const shape of [boxAt(10, 20, 30), step, roundBar(20, 30).fuse(roundBar(12, 60)) as Shape3D]) {
      const { done } = await closed(shape);
      expect(done).toBeUndefined();
    }
  });
});

describe('any block', () => {
  const size = fc.integer({ min: 24, max: 70 });
  const slots = fc.uniqueArray(fc.integer({ min: 0, max: 4 }), { maxLength: 3 });
  it('is one again without its rounds or bevels, slots and notches, however it lies', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.tuple(size, size, size),
        fc.integer({ min: 5, max: 30 }).map((tenths) => tenths / 10),
        fc.constantFrom('fillet', 'chamfer'),
        fc.constantFrom('X', 'Y', 'Z', 'all'),
        slots,
        fc.integer({ min: 0, max: 3 }),
        async ([x, y, z], radius, kind, along, at, notches) => {
          const block = boxAt(x, y, z);
          const edges =
            along === 'all' ? block[kind](radius) : block[kind](radius, (of) => of.inDirection(along));
          // Slots right across from above, notches in the lower edges.
          const tools = [
            ...at.map((n) => boxAt(1.5, y + 10, z / 4, [((n - 2) * x) / 7, 0, z - z / 4])),
            ...Array.from({ length: notches }, (_, n) =>
              boxAt(2, 9, 5, [((n - 1) * x) / 5 + 0.9, n === 1 ? -y / 2 : y / 2, -1]),
            ),
          ];
          const { after, off, done } = await coarsened(without(edges as Shape3D, ...tools), {
            edges: radius,
            slots: 'all',
            join: true,
          });
          expect(after.faces).toBe(6);
          expect(after.volume).toBeCloseTo(x * y * z, 3);
          // Askew, its sharp corners reach further.
          expect(off ?? 0).toBeLessThan((done?.off ?? 0) + 1e-4);
          expect(done?.off ?? 0).toBeLessThan(2 * radius);
        },
      ),
      { numRuns: 5 },
    );
  });
});

/** Two bodies as one, with the faces that each of them had. */
async function fusedAsTheyAre(one: Shape3D, other: Shape3D): Promise<Uint8Array> {
  const oc = await startModelling();
  using fuse = new oc.BRepAlgoAPI_Fuse();
  using bodies = new oc.NCollection_List_TopoDS_Shape();
  using tools = new oc.NCollection_List_TopoDS_Shape();
  bodies.Append(tilted(one).wrapped as never);
  tools.Append(tilted(other).wrapped as never);
  fuse.SetArguments(bodies);
  fuse.SetTools(tools);
  fuse.Build();
  return writeStep(oc, explored(oc, fuse.Shape(), 'TopAbs_SOLID'), 'MM');
}

describe('faces of one surface', () => {
  it('become one, and so do edges that go on', async () => {
    const half = (side: number) => without(roundBar(20, 30), boxAt(50, 50, 60, [25 * side, 0, -10]));
    const { before, after, done } = await coarsened(await fusedAsTheyAre(half(1), half(-1)), { join: true });
    expect(before.faces).toBeGreaterThan(3);
    expect(done?.joined).toBe(before.faces - 3);
    expect(after.faces).toBe(3);
    expect(after.volume).toBeCloseTo(before.volume, 4);
  });
});
