import fc from 'fast-check';
import { draw, drawCircle, makeCylinder, makeSphere, type Shape3D } from 'replicad';
import { beforeAll, describe, expect, it } from 'vitest';
import { closureText } from '#core/files/part21/closure-text';
import { Part21File } from '#core/files/part21/file';
import { geometryOf } from '#core/geometry/bodies/measure';
import { readStructure } from '#core/product/structure';
import { kernel } from '#core/testing/kernel';
import { boxAt as box, startModelling, stepOfShapes } from '#core/testing/step-of-shape';
import { fillText } from './fill-text';
import { findOpenings, type Opening } from './openings';
import { readTopology } from './read-topology';
import { OddTopology } from './topology';

beforeAll(startModelling);

const cut = (body: Shape3D, ...tools: Shape3D[]) =>
  tools.reduce((left, tool) => left.cut(tool) as Shape3D, body);
const pin = (
  radius: number,
  height: number,
  at: [number, number, number],
  along: [number, number, number] = [0, 0, 1],
) => makeCylinder(radius, height, at, along) as Shape3D;

/** The openings of a body, and the body before and after they are filled, as the kernel has it. */
async function filledOf(step: Uint8Array, wanted: (opening: Opening) => boolean = () => true) {
  const file = Part21File.read(step);
  const [body] = readStructure(file).products.flatMap(({ bodies }) => bodies);
  const [before] = await kernel.shapeBodies(step, [body!.id]);
  if (!before || !('facts' in before))
    throw new Error(`the kernel refused the body: ${(before as { error: string }).error}`);
  const topology = readTopology(file, body!, 1);
  expect(topology.faces).toHaveLength(before.facts.faces);
  const openings = findOpenings(topology, await geometryOf(before.mesh!));
  const chosen: Opening[] = [];
  const taken = new Set<number>();
  for (const opening of openings) {
    if (!wanted(opening) || opening.faces.some((face) => taken.has(face))) continue;
    chosen.push(opening);
    for (const face of opening.faces) taken.add(face);
  }
  const text = fillText(file, [{ body: body!.id, topology, openings: chosen }]);
  const [after] = await kernel.shapeBodies(text, [body!.id]);
  if (!after || !('facts' in after)) throw new Error(`after filling: ${(after as { error: string }).error}`);
  const [checked] = await kernel.shapeBodies(text, [body!.id], { details: 'none', check: true });
  expect(checked).toMatchObject({ isValid: true });
  return { file, body: body!, topology, openings, chosen, text, before: before.facts, after: after.facts };
}

describe('openings of solids', () => {
  it('are holes, counterbores, pockets and voids, with their sizes', async () => {
    const plate = cut(
      box(120, 80, 20),
      pin(4, 60, [-40, 20, -10]), // through
      pin(3, 12, [40, 20, 10]), // blind
      pin(3, 60, [0, -20, -10]), // stepped
      pin(6, 40, [0, -20, 12]),
      box(20, 10, 8, [30, -20, 14]), // pocket, 6 mm deep
    );
    const { openings, chosen, before, after } = await filledOf(await stepOfShapes([plate]));
    const told = chosen
      .map(({ kind, diameters, depth, isThrough, mouth }) => ({
        kind,
        diameters,
        depth: Math.round(depth * 1000) / 1000,
        isThrough,
        mouth: Math.round(mouth * 100) / 100,
      }))
      .sort((a, b) => a.mouth - b.mouth);
    expect(told).toEqual([
      { kind: 'hole', diameters: [6], depth: 10, isThrough: false, mouth: 6 },
      { kind: 'hole', diameters: [8], depth: 20, isThrough: true, mouth: 8 },
      { kind: 'counterbore', diameters: [12, 6], depth: 20, isThrough: true, mouth: 12 },
      { kind: 'pocket', diameters: [], depth: 6, isThrough: false, mouth: 22.36 },
    ]);
    expect(openings.length).toBeGreaterThanOrEqual(chosen.length);
    expect(before.volume).toBeLessThan(120 * 80 * 20 - 100);
    expect(after.volume).toBeCloseTo(120 * 80 * 20, 3);
    expect(after).toMatchObject({ faces: 6, box: before.box });
    expect(after.doubt ?? null).toBeNull();
  });

  it('leave bosses, and what rises out of a pocket', async () => {
    const bossed = box(60, 60, 10).fuse(pin(8, 20, [0, 0, 5])) as Shape3D;
    const { openings } = await filledOf(await stepOfShapes([bossed]));
    expect(openings).toEqual([]);
    const tower = cut(box(60, 60, 20), box(40, 40, 12, [0, 0, 12])).fuse(pin(5, 40, [0, 0, 10])) as Shape3D;
    const risen = await filledOf(await stepOfShapes([tower]));
    expect(risen.after.box).toEqual(risen.before.box);
  });

  it('are found in cylinders, cones, spheres and rings, too', async () => {
    const cone = draw([0, 0])
      .lineTo([40, 0])
      .lineTo([20, 50])
      .lineTo([0, 50])
      .close()
      .sketchOnPlane('XZ')
      .revolve([0, 0, 1]) as Shape3D;
    const ring = drawCircle(12).translate(50, 0).sketchOnPlane('XZ').revolve([0, 0, 1]) as Shape3D;
    const bodies: [string, Shape3D, number][] = [
      ['cylinder', cut(pin(30, 80, [0, 0, 0]), pin(4, 20, [-40, 0, 40], [1, 0, 0])), 1],
      ['cone', cut(cone, pin(4, 25, [-45, 0, 25], [1, 0, 0])), 1],
      ['sphere', cut(makeSphere(30) as Shape3D, pin(5, 20, [-35, 0, 8], [1, 0, 0])), 1],
      ['ring', cut(ring, pin(3, 12, [-50, 0, 4])), 1],
      ['cylinder, across its seam', cut(pin(30, 80, [0, 0, 0]), pin(4, 20, [20, 0, 40], [1, 0, 0])), 1],
      [
        'cylinder, across its seam twice',
        cut(pin(30, 80, [0, 0, 0]), pin(4, 20, [20, 0, 20], [1, 0, 0]), pin(5, 20, [20, 0, 60], [1, 0, 0])),
        2,
      ],
      ['cylinder, through and through', cut(pin(30, 80, [0, 0, 0]), pin(6, 100, [-50, 0, 40], [1, 0, 0])), 1],
      ['sphere, across its seam', cut(makeSphere(30) as Shape3D, pin(5, 20, [15, 0, 8], [1, 0, 0])), 1],
      ['ring, across its seam', cut(ring, pin(3, 12, [50, 0, 4])), 1],
      ['shaft with a bore', cut(pin(20, 60, [0, 0, 0]), pin(8, 60, [0, 0, 0])), 1],
    ];
    for (const [name, body, count] of bodies) {
      const { chosen, before, after } = await filledOf(await stepOfShapes([body]));
      expect([name, chosen.length]).toEqual([name, count]);
      expect(after.volume).toBeGreaterThan(before.volume);
      for (const [n, value] of before.box.entries())
        expect(Math.abs(value - after.box[n]!)).toBeLessThan(1e-3 + before.boxTolerance + after.boxTolerance);
      expect(after.doubt ?? null).toBeNull();
    }
  });

  it('are found where a round or flat face is in halves, and the hole lies across both', async () => {
    // Drawn out of two arcs: as many systems write cylinders and bores.
    const halves = (radius: number) =>
      draw([-radius, 0])
        .threePointsArcTo([radius, 0], [0, radius])
        .threePointsArcTo([-radius, 0], [0, -radius])
        .close()
        .sketchOnPlane('XY')
        .extrude(80) as Shape3D;
    const whole = halves(30);
    const tube = cut(whole, halves(12));
    const flat = box(60, 40, 20, [30, 0, 0]).fuse(box(60, 40, 20, [-30, 0, 0])) as Shape3D;
    const stacked = pin(20, 40, [0, 0, 0]).fuse(pin(20, 40, [0, 0, 40])) as Shape3D;
    const bodies: [string, Shape3D, number, number][] = [
      ['cylinder in halves', cut(whole, pin(5, 20, [-40, 0, 40], [1, 0, 0])), 1, Math.PI * 900 * 80],
      [
        'on both edges between them',
        cut(whole, pin(5, 20, [-40, 0, 20], [1, 0, 0]), pin(4, 20, [20, 0, 60], [1, 0, 0])),
        2,
        Math.PI * 900 * 80,
      ],
      [
        'twice on one edge',
        cut(whole, ...[20, 60].map((z) => pin(4, 20, [-40, 0, z], [1, 0, 0]))),
        2,
        Math.PI * 900 * 80,
      ],
      ['through and through', cut(whole, pin(6, 100, [-50, 0, 40], [1, 0, 0])), 1, Math.PI * 900 * 80],
      [
        'through the wall of a tube',
        cut(tube, pin(4, 40, [-40, 0, 40], [1, 0, 0])),
        1,
        Math.PI * (900 - 144) * 80,
      ],
      ['flat face in halves', cut(flat, pin(5, 10, [0, 0, 15])), 1, 120 * 40 * 20],
      ['square pocket across it', cut(flat, box(20, 10, 10, [0, 5, 15])), 1, 120 * 40 * 20],
      ['one cylinder on another', cut(stacked, pin(5, 20, [-30, 0, 40], [1, 0, 0])), 1, Math.PI * 400 * 80],
    ];
    for (const [name, body, count, volume] of bodies) {
      const { chosen, before, after } = await filledOf(await stepOfShapes([body]), ({ mouth }) => mouth < 23);
      expect([name, chosen.length]).toEqual([name, count]);
      expect(after.volume / volume, name).toBeCloseTo(1, 4);
      for (const [n, value] of before.box.entries())
        expect(Math.abs(value - after.box[n]!)).toBeLessThan(1e-3 + before.boxTolerance + after.boxTolerance);
    }
  });

  it('are not what breaks through the edge of a body', async () => {
    const notched = cut(box(60, 40, 20), pin(5, 60, [30, 0, -10]), box(10, 10, 40, [0, 20, -10]));
    expect((await filledOf(await stepOfShapes([notched]))).openings).toEqual([]);
  });

  it('are inner shells, too: they leave the solid, which is a plain one then', async () => {
    const hollow = cut(
      box(40, 40, 40),
      makeSphere(8).translate(0, 0, 20) as Shape3D,
      box(6, 6, 6, [12, 12, 8]),
    );
    const { file, body, chosen, text, after } = await filledOf(await stepOfShapes([hollow]));
    expect(file.typeOf(body.id)).toBe('BREP_WITH_VOIDS');
    expect(chosen.map(({ kind }) => kind)).toEqual(['void', 'void']);
    expect(Part21File.read(text).typeOf(body.id)).toBe('MANIFOLD_SOLID_BREP');
    expect(after.volume).toBeCloseTo(64_000, 3);
    const one = await filledOf(await stepOfShapes([hollow]), ({ faces }) => faces.length === 1);
    expect(Part21File.read(one.text).typeOf(one.body.id)).toBe('BREP_WITH_VOIDS');
    expect(one.after.volume).toBeCloseTo(64_000 - 216, 3);
  });

  it('are filled without another digit in the faces that stay', async () => {
    const plate = cut(box(50, 50, 10), pin(5, 30, [10, 0, -5]), pin(3, 30, [-10, 0, -5]));
    const { file, topology, chosen, text } = await filledOf(
      await stepOfShapes([plate]),
      ({ mouth }) => mouth < 7,
    );
    const now = Part21File.read(text);
    const touched = new Set(
      chosen.flatMap(({ faces, rims }) => [...faces, ...rims.flatMap(({ hosts }) => hosts)]),
    );
    const untouched = topology.faces.flatMap(({ id }, n) => (touched.has(n) ? [] : [id]));
    expect(untouched).toHaveLength(5);
    for (const id of untouched) expect(closureText(now, id)).toBe(closureText(file, id));
    expect(chosen).toHaveLength(1);
  });

  it('are not looked for in what is no closed solid', async () => {
    const text = Buffer.from(await stepOfShapes([box(10, 10, 10)])).toString('latin1');
    const open = Part21File.read(
      Buffer.from(
        text.replace(/CLOSED_SHELL\('',\(#\d+,/, (shell) => shell.replace(/#\d+,$/, '')),
        'latin1',
      ),
    );
    const [body] = readStructure(open).products.flatMap(({ bodies }) => bodies);
    expect(() => readTopology(open, body!, 1)).toThrow(OddTopology);
  });

  it('are all found, and none does harm, in random plates', async () => {
    // Places on a grid, so that no two holes meet.
    const place = fc.record({
      kind: fc.constantFrom('through', 'blind', 'counterbore', 'pocket', 'boss', 'nothing'),
      radius: fc.integer({ min: 15, max: 35 }),
      depth: fc.integer({ min: 3, max: 12 }),
    });
    let [made, found] = [0, 0];
    await fc.assert(
      fc.asyncProperty(
        fc.array(place, { minLength: 9, maxLength: 9 }),
        fc.constantFrom('box', 'cylinder'),
        async (places, base) => {
          let body = base === 'box' ? box(66, 66, 20) : pin(50, 20, [0, 0, 0]);
          let count = 0;
          for (const [n, { kind, radius, depth }] of places.entries()) {
            const [x, y] = [((n % 3) - 1) * 20, (Math.floor(n / 3) - 1) * 20];
            const r = radius / 10;
            if (kind === 'through') body = cut(body, pin(r, 60, [x, y, -20]));
            if (kind === 'blind') body = cut(body, pin(r, 40, [x, y, 20 - depth]));
            if (kind === 'counterbore')
              body = cut(body, pin(r, 60, [x, y, -20]), pin(r + 2, 40, [x, y, 20 - depth]));
            if (kind === 'pocket') body = cut(body, box(2 * r, 3 * r, 40, [x, y, 20 - depth]));
            if (kind === 'boss') body = body.fuse(pin(r, depth, [x, y, 19])) as Shape3D;
            if (kind !== 'boss' && kind !== 'nothing') count++;
          }
          const { chosen, before, after } = await filledOf(await stepOfShapes([body]));
          made += count;
          found += Math.min(count, chosen.length);
          expect(chosen.length).toBeLessThanOrEqual(count);
          expect(after.doubt ?? null).toBeNull();
          for (const [k, value] of before.box.entries())
            expect(Math.abs(value - after.box[k]!)).toBeLessThan(1e-4);
          if (chosen.length > 0) expect(after.volume).toBeGreaterThan(before.volume);
        },
      ),
      { numRuns: 25, seed: 11 },
    );
    expect(found / made).toBeGreaterThanOrEqual(0.98);
  });
});
