import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import { makeBaseBox, makeCylinder, type Shape3D } from 'replicad';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { NO_TIME, Part21Builder } from '#core/files/part21/write';
import { planOperation } from '#core/operation';
import { IDENTITY, transformPoint } from '#core/product/matrix';
import { readStructure } from '#core/product/structure';
import { across, unit } from '#core/product/vector';
import { AP242, addFrame, writeAssembly } from '#core/product/write-assembly';
import { addProduct } from '#core/product/write-components';
import { MemoryFileSet } from '#core/project/change/memory';
import { kernel } from '#core/testing/kernel';
import { around, madeAssembly, needleBearing, ring, roundBar, without } from '#core/testing/made-assemblies';
import { hasOutsideReader, readOutside } from '#core/testing/outside-reader';
import { testContext } from '#core/testing/plan-context';
import { readUrdf } from '#core/testing/read-urdf';
import { boxAt, startModelling, stepOfShapes } from '#core/testing/step-of-shape';
import { checkUrdf, hasUrdfReader } from '#core/testing/urdf-reader';
import { JOINT_KINDS, type Joint } from './choices';
import { AT_REST, FREE, FREEDOMS } from './freedoms';
import { writeMjcf } from './mjcf';
import { Mechanism, motionOf } from './motion';
import { GROUPS } from './operation';
import { readKinematics } from './read-kinematics';
import { writeUrdf } from './urdf';
import { addKinematics } from './write-kinematics';

const known = new Map<string, Promise<unknown>>();
const folder = mkdtempSync(path.join(os.tmpdir(), 'stonetray-groups-'));
beforeAll(startModelling);
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
});

const joint = (
  between: [string, string],
  at: [number, number, number],
  more: Partial<Joint> = {},
): Joint => ({
  name: between.join(' '),
  between,
  kind: 'revolute',
  at,
  direction: [0, 0, 1],
  turn: null,
  way: null,
  slideX: null,
  slideY: null,
  ...more,
});

const links = (...names: string[]) =>
  names.map((name) => ({ name, mesh: `${name}.glb`, hull: `${name}-hull.glb`, mass: null }));

describe('a mechanism', () => {
  it('moves a chain: what hangs on a group goes along', () => {
    const chain = new Mechanism(
      ['base', 'arm', 'hand'],
      [joint(['base', 'arm'], [0, 0, 0]), joint(['arm', 'hand'], [100, 0, 0])],
    );
    const turn = (first: number, second: number) =>
      chain.poses([
        { ...AT_REST, turn: first },
        { ...AT_REST, turn: second },
      ])[2]!;
    const tip = (first: number, second: number) =>
      transformPoint(turn(first, second), [200, 0, 0]).map((value) => Math.round(value));
    expect(tip(0, 0)).toEqual([200, 0, 0]);
    expect(tip(90, 0)).toEqual([0, 200, 0]);
    expect(tip(90, 90)).toEqual([-100, 100, 0]);
    expect(new Mechanism(['base', 'far'], []).loose).toEqual(['far']);
  });

  it('tells by which joint a group is moved, also when the joint was written the other way round', () => {
    const joints: Joint[] = [
      joint(['arm', 'base'], [0, 0, 0]),
      joint(['arm', 'hand'], [100, 0, 0]),
      { ...joint(['hand', 'glove'], [150, 0, 0]), kind: 'fixed' },
    ];
    const chain = new Mechanism(['base', 'arm', 'hand', 'glove'], joints);
    expect(chain.joinedBy('base')).toBeNull();
    expect(chain.joinedBy('arm')).toEqual({ joint: 0, isForward: false });
    expect(chain.joinedBy('hand')).toEqual({ joint: 1, isForward: true });
    expect(chain.joinedBy('glove')).toEqual({ joint: 1, isForward: true });
    expect(chain.joinedBy('nobody')).toBeNull();
  });

  it('keeps a loop closed all the way round, and ends where it can go no further', () => {
    // A crank of 30, a coupler of 80, a rocker of 70, the ground of 90: the crank goes round (Grashof).
    const joints = [
      joint(['ground', 'crank'], [0, 0, 0]),
      joint(['crank', 'coupler'], [30, 0, 0]),
      joint(['ground', 'rocker'], [90, 0, 0]),
      joint(['coupler', 'rocker'], [71.6666667, 67.5, 0]),
    ];
    const [dx, dy] = [joints[3]!.at[0] - 30, joints[3]!.at[1]];
    const coupler = Math.hypot(dx, dy);
    const fourBar = new Mechanism(['ground', 'crank', 'coupler', 'rocker'], joints, 100);
    let values = joints.map(() => AT_REST);
    for (let turn = 10; turn <= 360; turn += 10) {
      const state = fourBar.drive(values, 0, { turn });
      expect(state.error).toBeLessThan(1e-6);
      expect(state.values[0]!.turn).toBeCloseTo(turn, 6);
      const [end] = [transformPoint(state.poses[3]!, joints[3]!.at)];
      const [pin] = [transformPoint(state.poses[1]!, joints[1]!.at)];
      expect(Math.hypot(end![0] - pin![0], end![1] - pin![1])).toBeCloseTo(coupler, 5);
      ({ values } = state);
    }
    // Once round, everything is where it was.
    expect(values[1]!.turn % 360).toBeCloseTo(
      values[1]!.turn > 180 ? 360 : values[1]!.turn < -180 ? -360 : 0,
      3,
    );
    // Past once round it goes on: a turn is no remainder, and the loop stays closed.
    for (let turn = 370; turn <= 450; turn += 10) {
      const state = fourBar.drive(values, 0, { turn });
      expect([state.error < 1e-6, state.values[0]!.turn]).toEqual([true, expect.closeTo(turn, 6)]);
      ({ values } = state);
    }
    const stopped = new Mechanism(
      ['ground', 'crank', 'coupler', 'rocker'],
      joints.map((one, n) => (n === 2 ? { ...one, turn: [-5, 5] as [number, number] } : one)),
      100,
    );
    const far = stopped.drive(
      joints.map(() => AT_REST),
      0,
      { turn: 120 },
    );
    expect(Math.abs(far.values[2]!.turn)).toBeLessThanOrEqual(5 + 1e-6);
    expect(far.values[0]!.turn).toBeLessThan(120);
  });

  it('moves by its kind, within its limits', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('revolute', 'prismatic', 'cylindrical', 'planar', 'fixed'),
        fc.integer({ min: -170, max: 170 }),
        fc.integer({ min: -50, max: 50 }),
        (kind, turn, way) => {
          const one = joint(['a', 'b'], [10, 20, 30], { kind });
          const moved = motionOf(one, { turn, way, slideX: way, slideY: -way });
          const onAxis = transformPoint(moved, one.at);
          const along = onAxis[2] - one.at[2];
          const across = Math.hypot(onAxis[0] - one.at[0], onAxis[1] - one.at[1]);
          expect(along).toBeCloseTo(kind === 'prismatic' || kind === 'cylindrical' ? way : 0, 9);
          expect(across).toBeCloseTo(kind === 'planar' ? Math.abs(way) * Math.SQRT2 : 0, 9);
          if (kind === 'fixed')
            expect(moved.every((value, n) => Math.abs(value - IDENTITY[n]!) < 1e-12)).toBe(true);
        },
      ),
    );
    const limited = new Mechanism(['a', 'b'], [joint(['a', 'b'], [0, 0, 0], { turn: [-30, 60] })]);
    expect(limited.drive([AT_REST], 0, { turn: 100 }).values[0]!.turn).toBe(60);
  });

  it('slides in a plane along both directions, each within its limits', () => {
    const table = new Mechanism(
      ['bed', 'table'],
      [joint(['bed', 'table'], [0, 0, 5], { kind: 'planar', slideX: [-10, 10], way: [50, 60] })],
    );
    const { values, poses } = table.drive([AT_REST], 0, { slideX: 25, slideY: 40 });
    expect(values[0]).toEqual({ turn: 0, way: 0, slideX: 10, slideY: 40 });
    const [u, v] = across([0, 0, 1]);
    expect(transformPoint(poses[1]!, [0, 0, 0])).toEqual([10 * u[0] + 40 * v[0], 10 * u[1] + 40 * v[1], 0]);
  });

  it('reads back from kinematics as it was written, whatever the axis and the limits', () => {
    const number = fc.integer({ min: -500, max: 500 });
    const range = fc.option(
      fc.tuple(number, number.map(Math.abs)).map(([low, way]) => [low, low + way] as [number, number]),
    );
    const triple = fc.tuple(number, number, number);
    const anyJoint = fc.record({
      kind: fc.constantFrom(...JOINT_KINDS),
      at: triple,
      direction: triple.filter((one) => Math.hypot(...one) > 1).map((one) => [...unit(one)] as Joint['at']),
      turn: range,
      way: range,
      slideX: range,
      slideY: range,
    });
    fc.assert(
      fc.property(anyJoint, (given) => {
        const one = joint(['a', 'b'], [0, 0, 0], given);
        const builder = new Part21Builder();
        const frame = addFrame(builder, 'mm');
        const { definition } = addProduct(frame, 'm', 'm');
        const groups = ['a', 'b'].map((name) => ({
          name,
          representation: builder.add('SHAPE_REPRESENTATION', name, [frame.origin], frame.context),
        }));
        addKinematics(builder, { definition, context: frame.context, name: 'm' }, groups, [one]);
        const bytes = builder.finish({ name: 'm', timeStamp: NO_TIME, originatingSystem: '', schema: AP242 });
        const [read] = readKinematics(Part21File.read(bytes)).joints;
        expect(read).toMatchObject({ name: one.name, between: one.between, kind: one.kind });
        for (const [n, value] of [...one.at, ...one.direction].entries())
          expect([...read!.at, ...read!.direction][n]).toBeCloseTo(value, 6);
        for (const what of FREEDOMS) {
          const wanted = FREE[one.kind].includes(what) ? one[what] : null;
          expect(read![what]?.map((value) => Number(value.toFixed(6))) ?? null).toEqual(wanted);
        }
      }),
    );
  });
});

/** A block with a bore, an arm with a pin that is loose in it, a cap that is pressed onto the pin, and a screw that holds a plate. */
async function hinge() {
  const block = (makeBaseBox(60, 60, 40) as Shape3D)
    .cut(makeCylinder(10.1, 100, [0, 0, -10]) as Shape3D)
    .cut(makeCylinder(2, 100, [-22, -22, -10]) as Shape3D)
    .cut(makeCylinder(2, 100, [22, -22, -10]) as Shape3D) as Shape3D;
  const arm = (makeCylinder(10, 60, [0, 0, -10]) as Shape3D).fuse(
    makeBaseBox(20, 120, 8).translate(0, 40, 50) as Shape3D,
  ) as Shape3D;
  const plate = (makeBaseBox(60, 20, 5).translate(0, -22, 40) as Shape3D)
    .cut(makeCylinder(2.05, 100, [-22, -22, -10]) as Shape3D)
    .cut(makeCylinder(2.05, 100, [22, -22, -10]) as Shape3D) as Shape3D;
  const screw = (x: number) => makeCylinder(2, 40, [x, -22, 10]) as Shape3D;
  const parts: [string, Shape3D][] = [
    ['block', block],
    ['arm', arm],
    ['plate', plate],
    ['screw-a', screw(-22)],
    ['screw-b', screw(22)],
  ];
  const files: [string, Uint8Array][] = await Promise.all(
    parts.map(async ([name, shape]) => [`${name}.stp`, await stepOfShapes([shape])] as [string, Uint8Array]),
  );
  files.push([
    'hinge.stp',
    writeAssembly({
      id: 'H',
      name: 'Hinge',
      fileName: 'hinge.stp',
      timeStamp: '2026-01-01T00:00:00',
      components: parts.map(([name]) => ({
        id: name,
        name,
        written: `${name}.stp`,
        placings: [{ name, placement: IDENTITY }],
      })),
    }),
  ]);
  return new MemoryFileSet(files);
}

describe('moving groups', () => {
  it('are proposed from pins in holes: what turns, what is fixed', async () => {
    const files = await hinge();
    const { preview, change } = await planOperation(GROUPS, await testContext(files, kernel, known), {
      file: 'hinge.stp',
    });
    expect(change.changes).toEqual([]);
    expect(preview.groups.map(({ members }) => [...members].sort())).toEqual([
      ['block', 'plate', 'screw-a', 'screw-b'],
      ['arm'],
    ]);
    expect(preview.joints).toMatchObject([{ kind: 'revolute', direction: [0, 0, 1] }]);
    const [x, y] = preview.joints[0]!.at;
    expect([x, y].map((value) => Math.round(value * 1000))).toEqual([0, 0]);
  });

  it('are written as kinematics that read back, with the bore left open for its pin, and as URDF', async () => {
    const files = await hinge();
    const groups = [
      { name: 'Base', members: ['block', 'plate', 'screw-a', 'screw-b'] },
      { name: 'Arm', members: ['arm'] },
    ];
    const joints = [joint(['Base', 'Arm'], [0, 0, 0], { name: 'hinge', turn: [-45, 90] })];
    const planned = await planOperation(GROUPS, await testContext(files, kernel, known), {
      file: 'hinge.stp',
      groups,
      joints,
      hidden: false,
      urdf: true,
      sdf: true,
      mjcf: true,
      density: 8000,
    });
    expect(planned.hindrance).toBeUndefined();
    // One solid a group: screws, plate and block are pinned and united, and nothing of a screw is left inside.
    expect(planned.preview.made).toMatchObject({ reopened: 1, after: { occurrences: 2, bodies: 2 } });
    const written = new Map(
      planned.change.changes.flatMap((one) =>
        one.action === 'write' ? [[one.path, one.content!] as const] : [],
      ),
    );
    const step = written.get('hinge-motion.stp')!;
    const file = Part21File.read(step);
    const read = readKinematics(file);
    expect(read.links).toEqual(['Base', 'Arm']);
    expect(read.joints).toMatchObject([
      { name: 'hinge', between: ['Base', 'Arm'], kind: 'revolute', at: [0, 0, 0], direction: [0, 0, 1] },
    ]);
    expect(read.joints[0]!.turn!.map((value) => Math.round(value))).toEqual([-45, 90]);
    expect(
      readStructure(file)
        .products.map(({ name }) => name)
        .sort(),
    ).toEqual(['Arm', 'Base', 'hinge-motion']);
    const urdf = readUrdf(Buffer.from(written.get('hinge-motion.urdf')!).toString());
    expect(urdf.links).toEqual([
      { name: 'Base', mesh: 'hinge-motion-1.glb' },
      { name: 'Arm', mesh: 'hinge-motion-2.glb' },
    ]);
    expect(urdf.joints).toMatchObject([{ type: 'revolute', parent: 'Base', child: 'Arm', axis: [0, 0, 1] }]);
    expect(urdf.joints[0]!.limit!.map((value) => Math.round((value * 180) / Math.PI))).toEqual([-45, 90]);
    for (const { mesh } of urdf.links) expect(written.has(mesh)).toBe(true);
    expect([...written.keys()].filter((name) => name.endsWith('-hull.glb'))).toHaveLength(2);
    expect(written.has('hinge-motion.mjcf.xml') && written.has('hinge-motion-2.stl')).toBe(true);
    const sdf = Buffer.from(written.get('hinge-motion.sdf')!).toString();
    expect(sdf).toContain('<joint name="hinge" type="revolute">');
    expect(sdf).toContain('<limit><lower>-0.785398163</lower><upper>1.570796327</upper></limit>');
    expect(planned.change.warnings).toEqual([
      expect.stringContaining('are of no known material and weigh 8000 kg/m³'),
    ]);
    const masses = [...sdf.matchAll(/<mass>([\d.]+)<\/mass>/g)].map(([, mass]) => Number(mass));
    const { measured } = await testContext(files, kernel, known);
    const weightOf = async (...names: string[]) => {
      const bodies = await Promise.all(names.map((name) => measured(`${name}.stp`)));
      return bodies.reduce((sum, own) => sum + 8000e-9 * ([...own.values()][0]!.facts?.volume ?? 0), 0);
    };
    expect(masses[1]).toBeCloseTo(await weightOf('arm'), 6);
    if (hasUrdfReader) {
      const out = path.join(folder, 'hinge.urdf');
      writeFileSync(out, written.get('hinge-motion.urdf')!);
      expect(checkUrdf(out)).toContain('root Link: Base has 1 child(ren)');
    }
    // Opened again, it has the groups and joints that it was made with.
    const again = new MemoryFileSet([['hinge-motion.stp', step]]);
    const reopened = await planOperation(GROUPS, await testContext(again, kernel, known), {
      file: 'hinge-motion.stp',
    });
    expect(reopened.preview.groups).toEqual([
      { name: 'Base', members: ['Base'] },
      { name: 'Arm', members: ['Arm'] },
    ]);
    expect(reopened.preview.joints).toMatchObject([
      { name: 'hinge', kind: 'revolute', between: ['Base', 'Arm'] },
    ]);
    if (!hasOutsideReader) return;
    const out = path.join(folder, 'motion.stp');
    writeFileSync(out, step);
    const [view] = readOutside([out]);
    expect(view).toMatchObject({ free: 1, fails: 0 });
    expect(view!.solids).toHaveLength(2);
  });

  it('are proposed as a joint where bodies roll between two rings', async () => {
    const files = await madeAssembly([
      ...needleBearing(8),
      { name: 'Foot', bodies: [boxAt(70, 70, 10, [0, 0, -10])] },
    ]);
    const { preview } = await planOperation(GROUPS, await testContext(files, kernel, known), {
      file: 'top.stp',
    });
    expect(preview.joints).toMatchObject([{ kind: 'revolute', direction: [0, 0, 1] }]);
    const [ground, turning] = preview.groups;
    expect(ground!.members).toEqual(expect.arrayContaining(['Outer ring', 'Foot']));
    expect(turning!.members).toContain('Inner ring');
    // Screws around a shaft do not roll: they sit in the flange.
    const screws = around(4, 22, 0);
    const flange = without(
      ring(30, 16, 20),
      ...screws.map(([, , , x, , , , y]) => roundBar(2, 30, [x!, y!, -5])),
    );
    const bolted = await madeAssembly([
      { name: 'Flange', bodies: [flange] },
      { name: 'Sleeve', bodies: [ring(12, 8, 20)] },
      { name: 'Bolt', bodies: [roundBar(2, 20)], places: screws },
    ]);
    const none = await planOperation(GROUPS, await testContext(bolted, kernel, known), { file: 'top.stp' });
    expect(none.preview.joints).toEqual([]);
  });

  it('keep a thin plate open for a long shaft, whose triangles have their middles elsewhere', async () => {
    const files = await madeAssembly([
      { name: 'Plate', bodies: [without(boxAt(60, 60, 4, [0, 0, 80]), roundBar(12, 20, [0, 0, 70]))] },
      { name: 'Shaft', bodies: [roundBar(10, 100)] },
    ]);
    const planned = await planOperation(GROUPS, await testContext(files, kernel, known), {
      file: 'top.stp',
      groups: [
        { name: 'Plate', members: ['Plate'] },
        { name: 'Shaft', members: ['Shaft'] },
      ],
      joints: [joint(['Plate', 'Shaft'], [0, 0, 0])],
    });
    expect(planned.preview.made).toMatchObject({ reopened: 1, overlaps: [] });
  });

  it('stay as the parts that are left where that is wanted', async () => {
    const planned = await planOperation(GROUPS, await testContext(await hinge(), kernel, known), {
      file: 'hinge.stp',
      accept: true,
      hidden: false,
      solid: false,
    });
    expect(planned.preview.made).toMatchObject({ after: { occurrences: 2, bodies: 5 }, overlaps: [] });
  });

  it('keep a hollow that another group stands in, and fill one in which nothing of another stands', async () => {
    const frame = (makeBaseBox(100, 60, 60) as Shape3D)
      .cut(makeBaseBox(40, 30, 30).translate(-20, 0, 15) as Shape3D)
      .cut(makeBaseBox(10, 10, 10).translate(35, 0, 25) as Shape3D) as Shape3D;
    const slider = makeBaseBox(20, 29, 29).translate(-20, 0, 15.5) as Shape3D;
    const written: [string, Shape3D][] = [
      ['frame', frame],
      ['slider', slider],
    ];
    const files = new MemoryFileSet([
      ...(await Promise.all(
        written.map(
          async ([name, shape]) => [`${name}.stp`, await stepOfShapes([shape])] as [string, Uint8Array],
        ),
      )),
      [
        'guide.stp',
        writeAssembly({
          id: 'G',
          name: 'Guide',
          fileName: 'guide.stp',
          timeStamp: '2026-01-01T00:00:00',
          components: written.map(([name]) => ({
            id: name,
            name,
            written: `${name}.stp`,
            placings: [{ name, placement: IDENTITY }],
          })),
        }),
      ],
    ]);
    const { preview, change } = await planOperation(GROUPS, await testContext(files, kernel, known), {
      file: 'guide.stp',
      groups: [
        { name: 'Frame', members: ['frame'] },
        { name: 'Slider', members: ['slider'] },
      ],
      joints: [
        joint(['Frame', 'Slider'], [-20, 0, 30], { kind: 'prismatic', direction: [1, 0, 0], way: [-10, 10] }),
      ],
      hidden: false,
    });
    expect(preview.made).toMatchObject({ after: { bodies: 2 }, overlaps: [] });
    const out = path.join(folder, 'guide.stp');
    writeFileSync(out, change.changes.flatMap((one) => (one.action === 'write' ? [one.content!] : []))[0]!);
    if (!hasOutsideReader) return;
    const [view] = readOutside([out]);
    expect(view).toMatchObject({ free: 1, fails: 0 });
    const volumes = view!.solids.map(({ volume }) => Math.round(volume)).sort((a, b) => a - b);
    expect(volumes).toEqual([20 * 29 * 29, 100 * 60 * 60 - 40 * 30 * 30]);
  });

  it('are looked at on their way: where they run into each other is said', async () => {
    const made = async (turn: [number, number], at: [number, number, number]) => {
      const { preview, change } = await planOperation(
        GROUPS,
        await testContext(await hinge(), kernel, known),
        {
          file: 'hinge.stp',
          groups: [
            { name: 'Base', members: ['block', 'plate', 'screw-a', 'screw-b'] },
            { name: 'Arm', members: ['arm'] },
          ],
          joints: [joint(['Base', 'Arm'], at, { name: 'hinge', turn })],
          hidden: false,
        },
      );
      return { overlaps: preview.made!.overlaps, warnings: change.warnings };
    };
    // About its own axis the arm turns freely between the limits; about another its pin leaves the bore through the wall.
    expect((await made([-20, 20], [0, 0, 0])).overlaps).toEqual([]);
    const { overlaps, warnings } = await made([0, 40], [60, 0, 0]);
    expect(overlaps).toMatchObject([{ groups: ['Base', 'Arm'] }]);
    expect(overlaps[0]!.volume).toBeGreaterThan(10);
    expect(warnings.join()).toMatch(/Base and Arm have .* mm³ in common where hinge is turned by \d+/);
  });

  it('refuses what cannot be: two of one name, joints with nobody, groups that hang on nothing', async () => {
    const files = await hinge();
    const plan = async (given: object) =>
      planOperation(GROUPS, await testContext(files, kernel, known), {
        file: 'hinge.stp',
        hidden: false,
        fill: false,
        ...given,
      });
    const two = [
      { name: 'A', members: [] },
      { name: 'A', members: ['arm'] },
    ];
    await expect(plan({ groups: two })).rejects.toThrow('Two groups are called A.');
    const groups = [
      { name: 'A', members: [] },
      { name: 'B', members: ['arm'] },
    ];
    await expect(plan({ groups, joints: [joint(['A', 'C'], [0, 0, 0])] })).rejects.toThrow(
      'is with a group C that is not there',
    );
    expect((await plan({ groups })).hindrance).toBe('No joint leads to B. Add one; a fixed one will do.');
  });

  it('written backwards turn the other way in URDF, about the same place', () => {
    const limits = { turn: [-10, 20] as [number, number], direction: [0, 0, 1] as [number, number, number] };
    const joints = [
      joint(['b', 'a'], [0, 0, 10], limits),
      joint(['b', 'c'], [100, 0, 0], { kind: 'prismatic', way: [0, 50], direction: [1, 0, 0] }),
    ];
    const [turned, slid] = readUrdf(writeUrdf('m', links('a', 'b', 'c'), joints).text).joints;
    expect(turned).toMatchObject({ parent: 'a', child: 'b', origin: [0, 0, 0.01], axis: [0, 0, -1] });
    expect(slid).toMatchObject({ parent: 'b', child: 'c', origin: [0.1, 0, -0.01], axis: [1, 0, 0] });
  });

  it('in URDF turn and slide as two joints, and leave loops out', () => {
    const chain = [
      joint(['a', 'b'], [0, 0, 10], { kind: 'cylindrical', way: [0, 50] }),
      joint(['b', 'c'], [100, 0, 0]),
      joint(['a', 'c'], [50, 0, 0], { name: 'closes' }),
    ];
    const { text, left } = writeUrdf('m & m', links('a', 'b', 'c'), chain);
    expect(left).toEqual(['closes']);
    const read = readUrdf(text);
    expect(read.name).toBe('m & m');
    expect(read.joints.map(({ type, limit }) => [type, limit])).toEqual([
      ['prismatic', [0, 0.05]],
      ['continuous', null],
      ['continuous', null],
    ]);
  });

  it('in MJCF hang on each other with all that they leave free, and loops are held together', () => {
    const chain = [
      joint(['b', 'a'], [0, 0, 10], {
        name: 'lift & turn',
        kind: 'cylindrical',
        way: [0, 50],
        direction: [0, 0, 2],
      }),
      joint(['b', 'c'], [100, 0, 0], { turn: [-90, 90], name: 'arm' }),
      joint(['a', 'c'], [50, 0, 0], { name: 'closes' }),
    ];
    const text = writeMjcf('m', links('a', 'b', 'c'), chain, (n) => `m-${n + 1}.stl`);
    const open = text.split('\n').map((line) => line.trim());
    // b hangs on a, c on b.
    expect(open.filter((line) => /^<\/?body/.test(line))).toEqual([
      '<body name="a">',
      '<body name="b">',
      '<body name="c">',
      '</body>',
      '</body>',
      '</body>',
    ]);
    // Written the other way round, the joint turns the other way.
    expect(text).toContain('<joint name="lift &amp; turn" type="hinge" pos="0 0 0.01" axis="0 0 -1"/>');
    expect(text).toContain(
      '<joint name="lift &amp; turn, way" type="slide" pos="0 0 0.01" axis="0 0 -1" range="0 0.05" limited="true"/>',
    );
    expect(text).toContain(
      'type="hinge" pos="0.1 0 0" axis="0 0 1" range="-1.570796327 1.570796327" limited="true"/>',
    );
    expect(text).toContain('<connect name="closes" body1="a" body2="c" anchor="0.05 0 0"/>');
    expect(text).toContain('<mesh name="mesh 2" file="m-2.stl" scale="0.001 0.001 0.001"/>');
  });
});
