import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { makeCylinder, type Shape3D } from 'replicad';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { leaksIn } from '#core/geometry/leaks/leaks';
import { unpackGltf } from '#core/geometry/shape/gltf';
import { finestMesh } from '#core/geometry/shape/solid-mesh';
import { uniteMeshes } from '#core/geometry/solids/mesh-union';
import { missingIn } from '#core/geometry/solids/missing';
import { beadsAlong, isClosed, tidiedMesh, touchingEdges } from '#core/geometry/solids/touching';
import { planOperation } from '#core/operation';
import { readStructure } from '#core/product/structure';
import { MemoryFileSet } from '#core/project/change/memory';
import { Refusal } from '#core/refusal';
import { kernel } from '#core/testing/kernel';
import { ring } from '#core/testing/made-assemblies';
import { hasOutsideReader, readOutside } from '#core/testing/outside-reader';
import { testContext } from '#core/testing/plan-context';
import { boxAt as box, startModelling, stepOfShapes } from '#core/testing/step-of-shape';
import { SEAL } from './operation';

const known = new Map<string, Promise<unknown>>();
const folder = mkdtempSync(path.join(os.tmpdir(), 'stonetray-seal-'));
beforeAll(startModelling);
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
});

/** A housing with a shaft through it that touches nothing, and, where it is asked for, something far away. */
async function machine(isLoose = false) {
  const housing = box(60, 60, 40).cut(makeCylinder(10.5, 100, [0, 0, -10]) as Shape3D) as Shape3D;
  const shaft = makeCylinder(10, 60, [0, 0, -10]) as Shape3D;
  const knob = box(60, 10, 10, [0, 35, 0]);
  const far = box(5, 5, 5, [200, 0, 0]);
  const bodies = [housing, shaft, knob, ...(isLoose ? [far] : [])];
  return new MemoryFileSet([['machine.stp', await stepOfShapes(bodies)]]);
}

async function seal(files: MemoryFileSet, given: object = {}) {
  const context = await testContext(files, kernel, known);
  return planOperation(SEAL, context, { file: 'machine.stp', ...given });
}

const contentOf = ({ change }: Awaited<ReturnType<typeof seal>>, name: string) => {
  const found = change.changes.find((one) => one.path === name);
  if (found?.action !== 'write') throw new Error(`${name} is not written`);
  return found.content!;
};

describe('a sealed solid', () => {
  it('is exact: one valid solid of all bodies, with what did not touch joined by a hidden pin', async () => {
    const planned = await seal(await machine());
    const { report } = planned.preview;
    expect(report).toMatchObject({
      way: 'exact',
      isValid: true,
      isClosed: true,
      solids: 1,
      innerShells: 0,
      loose: [],
      names: [],
      leaks: [],
      removed: { hidden: [], holes: 1, pockets: 0, voids: 0 },
      sections: [1, 1, 1],
    });
    // The bore is filled, so that the shaft is part of the housing without a pin.
    expect(report.volume.after).toBeGreaterThan(60 * 60 * 40 + 60 * 10 * 10);
    expect(report.box.after.map(Math.round)).toEqual(report.box.before.map(Math.round));
    const file = Part21File.read(contentOf(planned, 'machine-sealed.stp'));
    expect(leaksIn(file, 'machine-sealed')).toEqual([]);
    expect(readStructure(file).products.flatMap(({ bodies }) => bodies)).toHaveLength(1);
    expect(file.idsOfType('NEXT_ASSEMBLY_USAGE_OCCURRENCE')).toEqual([]);
    const types = new Set(file.index.keywords);
    for (const one of types) expect(one).not.toMatch(/COLOUR|STYLE|LAYER|PROPERTY|DOCUMENT|MATERIAL/);
  });

  it('names what touches nothing, and leaves it out when that is asked for', async () => {
    const files = await machine(true);
    const planned = await seal(files, { gap: 4 });
    expect(planned.hindrance).toMatch(
      /^One piece touches nothing else: .*Leave them out, or widen the gap\.$/,
    );
    const dropped = await seal(files, { gap: 4, loose: 'drop' });
    expect(dropped.hindrance).toBeUndefined();
    expect(dropped.preview.report.loose).toMatchObject([{ volume: expect.closeTo(125, 3) }]);
    expect(dropped.preview.report.box.after[3]).toBeCloseTo(30, 3);
  });

  it('is of facets within what is asked: closed, manifold, in every format', async () => {
    const planned = await seal(await machine(), {
      way: 'facets',
      within: 0.05,
      formats: ['3mf', 'stl', 'glb'],
    });
    const { report, mesh } = planned.preview;
    expect(report).toMatchObject({ way: 'facets', isClosed: true, isValid: true, sections: [1, 1, 1] });
    expect(report.deviation.max).toBeLessThan(0.05);
    expect(isClosed(mesh)).toBe(true);
    const step = contentOf(planned, 'machine-sealed.stp');
    const file = Part21File.read(step);
    expect(file.idsOfType('FACETED_BREP')).toHaveLength(1);
    // Flat walls are one facet each, not triangles.
    expect(report.after.faces).toBe(file.idsOfType('FACE_SURFACE').length);
    expect(report.after.faces).toBeLessThan(report.after.triangles);
    const stl = contentOf(planned, 'machine-sealed.stl');
    expect(new DataView(stl.buffer, stl.byteOffset).getUint32(80, true)).toBe(report.after.triangles);
    expect(Buffer.from(contentOf(planned, 'machine-sealed.3mf')).subarray(0, 2).toString()).toBe('PK');
    const [glb] = [...(await unpackGltf(contentOf(planned, 'machine-sealed.glb'))).values()];
    expect(glb!.box[3]! - glb!.box[0]!).toBeCloseTo(0.06, 6);
    const paths = [await seal(await machine()), planned].map((one, n) => {
      const name = path.join(folder, `${n}.stp`);
      writeFileSync(name, contentOf(one, 'machine-sealed.stp'));
      return name;
    });
    if (!hasOutsideReader) return;
    const [exact, faceted] = readOutside(paths);
    for (const view of [exact, faceted]) {
      expect(view).toMatchObject({ free: 1, fails: 0 });
      expect(view!.solids).toHaveLength(1);
    }
    expect(Math.abs(exact!.solids[0]!.volume / faceted!.solids[0]!.volume - 1)).toBeLessThan(1e-3);
  });

  it.each(['exact', 'facets'])('joins bodies that touch along an edge only: %s', async (way) => {
    const bodies = () => [box(30, 30, 5), box(10, 10, 10, [-5, -5, 5]), box(10, 10, 10, [5, 5, 5])];
    const turned = bodies().map((body) => body.rotate(17, [3, 0, 0], [1, 2, 3]) as Shape3D);
    const files = new MemoryFileSet([['machine.stp', await stepOfShapes(turned)]]);
    const { preview, change } = await seal(files, { way });
    expect(preview.report).toMatchObject({ way, isValid: true, isClosed: true, solids: 1 });
    expect(Math.abs(preview.report.volume.after / 6500 - 1)).toBeLessThan(1e-5);
    // Of facets they are grown a little, and overlap.
    if (way === 'exact')
      expect(change.warnings).toEqual([
        'Bodies touch along 1 edge only: there they are joined by a bead 0.01 mm thick.',
      ]);
  });

  it('is exact where bodies touch along lines only, with some of them a hair larger or smaller', async () => {
    const needle = (n: number) => makeCylinder(2, 18, [22 * Math.cos(n), 22 * Math.sin(n), 1]) as Shape3D;
    const bearing = [ring(30, 24, 20), ring(20, 14, 20), ...[0, 2, 4].map(needle)];
    const files = new MemoryFileSet([['machine.stp', await stepOfShapes(bearing)]]);
    const planned = await seal(files, { openings: 'keep' });
    const { report } = planned.preview;
    expect(report).toMatchObject({ way: 'exact', isValid: true, isClosed: true, solids: 1, loose: [] });
    expect(planned.change.warnings).toEqual([
      expect.stringMatching(
        /^\d bodies were made 0.005 mm (smaller|larger), so that they could be united exactly.$/,
      ),
    ]);
    expect(Math.abs(report.volume.after / report.volume.before - 1)).toBeLessThan(2e-3);
    if (!hasOutsideReader) return;
    const name = path.join(folder, 'needles.stp');
    writeFileSync(name, contentOf(planned, 'machine-sealed.stp'));
    const [view] = readOutside([name]);
    expect(view).toMatchObject({ free: 1, fails: 0 });
    expect(view!.solids).toHaveLength(1);
  });

  it('is an envelope around all of it: nothing stands out, and it stands off no further than asked', async () => {
    const files = await machine();
    const faces: number[] = [];
    for (const standOff of [30, 4]) {
      const planned = await seal(files, { way: 'envelope', standOff, formats: ['glb'] });
      const { report, mesh } = planned.preview;
      expect(report).toMatchObject({ way: 'envelope', isValid: true, isClosed: true, solids: 1, loose: [] });
      expect(report.deviation.max).toBeLessThan(standOff);
      for (const [n, value] of report.box.after.entries()) {
        const out = n < 3 ? report.box.before[n]! - value : value - report.box.before[n]!;
        expect(out).toBeGreaterThan(-1e-6);
        expect(out).toBeLessThan(standOff);
      }
      // The shaft, the housing and the knob lie in it wholly.
      const bodies = [...(await (await testContext(files, kernel, known)).meshes('machine.stp')).values()];
      expect(
        await missingIn(
          bodies.map((body) => tidiedMesh(finestMesh(body))),
          [tidiedMesh(mesh)],
        ),
      ).toEqual([]);
      faces.push(report.after.faces);
      if (!hasOutsideReader) continue;
      const name = path.join(folder, `envelope-${standOff}.stp`);
      writeFileSync(name, contentOf(planned, 'machine-sealed.stp'));
      const [view] = readOutside([name]);
      expect(view).toMatchObject({ free: 1, fails: 0 });
      expect(view!.solids).toHaveLength(1);
    }
    expect(faces[0]).toBeLessThan(faces[1]!);
  });

  it('keeps what is reached through a body that stands in an opening', async () => {
    const bush = makeCylinder(8, 50).cut(makeCylinder(6, 60, [0, 0, -5])) as Shape3D;
    const sleeve = makeCylinder(10, 50).cut(makeCylinder(8, 60, [0, 0, -5])) as Shape3D;
    const { preview } = await seal(new MemoryFileSet([['machine.stp', await stepOfShapes([sleeve, bush])]]), {
      openings: 'keep',
      gap: 3,
    });
    expect(preview.report.volume.after).toBeCloseTo(Math.PI * (100 - 36) * 50, 1);
    expect(preview.report.removed.holes).toBe(0);
  });

  it('keeps faces for mounting ten times closer than all others, where it is of facets', async () => {
    const plain = await seal(await machine());
    const { bodies } = plain.preview.reduced.openings.get('machine.stp')!;
    const round = [...bodies.values()].flatMap(({ topology }) => topology.faces);
    const shaft = round.find(({ surface }) => surface.kind === 'cylinder' && surface.radius < 10.2)!;
    const keepFaces = [{ file: 'machine.stp', face: shaft.id, name: 'shaft end', trace: null }];
    const [within, coarse] = [0.5, { way: 'facets', within: 0.5 }];
    const { report } = (await seal(await machine(), { ...coarse, keepFaces })).preview;
    expect(report).toMatchObject({ within, kept: [{ face: shaft.id, name: 'shaft end', identical: false }] });
    expect(report.kept[0]!.off).toBeLessThanOrEqual(within / 10);
    const without = (await seal(await machine(), coarse)).preview.report;
    expect(without.after.triangles).toBeLessThan(report.after.triangles);
  });

  it('falls to facets when the kernel fails or hangs, and says so', async () => {
    const context = await testContext(await machine(), kernel);
    const broken = new Proxy(kernel, {
      get: (target, name) =>
        name === 'run'
          ? (job: string, ...rest: [never, never]) =>
              job === 'uniteSolids'
                ? Promise.reject(new Refusal('Computing this geometry took longer than 120 s.'))
                : target.run(job as never, ...rest)
          : (Reflect.get(target, name).bind?.(target) ?? Reflect.get(target, name)),
    });
    const planned = await planOperation(
      SEAL,
      { ...context, kernel: broken },
      { file: 'machine.stp', within: 0.2 },
    );
    expect(planned.preview.report.way).toBe('facets');
    expect(planned.change.warnings).toEqual([
      'Computing this geometry took longer than 120 s. The solid is made of facets, within 0.2 mm.',
    ]);
    await expect(
      planOperation(
        SEAL,
        { ...(await testContext(await machine(), kernel)), kernel: broken },
        { file: 'machine.stp', way: 'exact' },
      ),
    ).rejects.toThrow('Choose facets, or leave the choice to the program.');
  });
});

describe('meshes that are united', () => {
  const cube = (size: number, [x, y, z]: [number, number, number] = [0, 0, 0]) => ({
    positions: Float32Array.from(
      Array.from({ length: 8 }, (_, n) => [
        x + (n & 1) * size,
        y + ((n >> 1) & 1) * size,
        z + ((n >> 2) & 1) * size,
      ]).flat(),
    ),
    triangles: Uint32Array.from([
      0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7,
      5,
    ]),
  });

  it('are closed only where one triangle goes along every edge each way, in whatever order', () => {
    const [one, other] = [cube(10), cube(10, [10, 10, 0])];
    const both = {
      positions: Float32Array.from([...one.positions, ...other.positions]),
      triangles: Uint32Array.from([...one.triangles, ...other.triangles.map((n) => n + 8)]),
    };
    expect(isClosed(one)).toBe(true);
    expect(isClosed(both)).toBe(false);
    expect(isClosed({ ...both, triangles: both.triangles.slice().reverse() })).toBe(false);
    expect(touchingEdges(one)).toEqual([]);
    expect(touchingEdges(both).map((edge) => edge.toSorted())).toEqual([
      [
        [10, 10, 0],
        [10, 10, 10],
      ],
    ]);
    expect(beadsAlong(touchingEdges(both), 0.1)).toMatchObject([{ length: 10, radius: 0.1 }]);
    // What has shrunk to nothing goes, and leaves it closed.
    const { positions, triangles } = cube(10);
    const more = {
      positions: Float32Array.from([...positions, 0, 0, 0]),
      triangles: [...triangles, 0, 8, 1],
    };
    const tidied = tidiedMesh({ ...more, triangles: Uint32Array.from(more.triangles) });
    expect(tidied.triangles).toHaveLength(36);
    expect(isClosed(tidied)).toBe(true);
  });

  it('lose hollows, keep apart what is apart, and leave out what is open', async () => {
    const open = { ...cube(5, [50, 0, 0]), triangles: cube(5).triangles.slice(3) };
    const union = await uniteMeshes([cube(10), cube(10, [5, 0, 0]), cube(4, [30, 0, 0]), open], []);
    expect(union.refused).toEqual([3]);
    expect(union.solids).toHaveLength(2);
    expect(union.solids.every(isClosed)).toBe(true);
    const walls = [cube(10)].flatMap((one) => [one]);
    expect((await uniteMeshes(walls, [])).hollows).toBe(0);
    expect(isClosed(open)).toBe(false);
  });
});
