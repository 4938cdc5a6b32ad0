import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { draw, drawPolysides, type Shape3D } from 'replicad';
import { beforeAll, describe, expect, it } from 'vitest';
import { meshBodies } from '#core/geometry/bodies/measure';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { openingsOf } from '#core/geometry/reduce/filled-parts';
import type { TrimmedShape } from '#core/geometry/shape/occt-trim';
import { LITE } from '#core/jobs/lite/operation';
import { planOperation } from '#core/operation';
import { IDENTITY, placementFromAxes, type Vector3 } from '#core/product/matrix';
import { MemoryFileSet } from '#core/project/change/memory';
import { kernel } from '#core/testing/kernel';
import { madeAssembly, ring, roundBar, without } from '#core/testing/made-assemblies';
import { hasOutsideReader, readOutside } from '#core/testing/outside-reader';
import { testContext } from '#core/testing/plan-context';
import { boxAt, startModelling, stepOfShapes } from '#core/testing/step-of-shape';
import { findToothing } from './toothing';

beforeAll(startModelling);

/** An outline that goes out and in again so often, between two radii. */
function toothed(count: number, inner: number, outer: number, height: number): Shape3D {
  const at = (radius: number, part: number): [number, number] => {
    const angle = (2 * Math.PI * part) / count;
    return [radius * Math.cos(angle), radius * Math.sin(angle)];
  };
  const pen = draw(at(inner, 0));
  for (let n = 0; n < count; n++) {
    pen
      .lineTo(at(outer, n + 0.3))
      .lineTo(at(outer, n + 0.5))
      .lineTo(at(inner, n + 0.8));
    if (n < count - 1) pen.lineTo(at(inner, n + 1));
  }
  return pen.close().sketchOnPlane('XY').extrude(height) as Shape3D;
}
const spots = (count: number, radius: number) =>
  Array.from({ length: count }, (_, n): [number, number] => {
    const angle = (2 * Math.PI * n) / count;
    return [radius * Math.cos(angle), radius * Math.sin(angle)];
  });

/** What becomes of a body, tilted, with rings filled: its faces and volume, before and after. */
async function rounded(body: Shape3D) {
  const tilt = placementFromAxes([30, -20, 10], [0.36, 0.48, 0.8], [0.8, -0.6, 0]);
  const files = await madeAssembly([{ name: 'Part', bodies: [body], places: [IDENTITY, tilt] }]);
  const [root] = (await files.list()).map((file) => file.path).filter((file) => file !== 'part.stp');
  const choices = { file: root!, roundOut: true };
  const { preview, change } = await planOperation(LITE, await testContext(files, kernel), choices);
  await files.apply(change);
  const { report } = preview;
  const written = await files.read(preview.file);
  return { report, written, warnings: change.warnings, faces: report.after.faces / 2, volume: report.volume };
}
const ringVolume = (outer: number, inner: number, height: number) =>
  Math.PI * (outer ** 2 - inner ** 2) * height;

describe('what stands all around an axis', () => {
  it('is a plain ring where it is teeth that stand out', async () => {
    const gear = without(toothed(24, 40, 45, 12), roundBar(10, 20, [0, 0, -4]));
    const { report, faces, volume, written } = await rounded(gear);
    // Two ends, the bore, the cylinder.
    expect(faces).toBe(4);
    expect(volume.after / 2).toBeCloseTo(ringVolume(45, 10, 12), 0);
    expect(report.removed.rounded).toHaveLength(2);
    expect(report.removed.rounded[0]!.depth).toBeCloseTo(45 - 40 * Math.cos((0.1 * 2 * Math.PI) / 24), 1);
    // How far the outside lies from what is left now is said.
    expect(report.deviation.max).toBeGreaterThan(3);
    expect(report.deviation.max).toBeLessThan(5.1);
    if (!hasOutsideReader) return;
    const folder = mkdtempSync(path.join(os.tmpdir(), 'toothing-'));
    const file = path.join(folder, 'gear.stp');
    writeFileSync(file, written);
    const [view] = await readOutside([file]);
    rmSync(folder, { recursive: true });
    expect(view).toMatchObject({ fails: 0, warnings: 0 });
    expect(view!.solids).toHaveLength(2);
  });

  it('is a plain bore where it is teeth that stand in', async () => {
    const ringGear = without(roundBar(60, 12), toothed(30, 40, 45, 12));
    const { faces, volume, report } = await rounded(ringGear);
    expect(faces).toBe(4);
    const bore = 40 * Math.cos((0.1 * 2 * Math.PI) / 30);
    expect(volume.after / 2).toBeGreaterThan(ringVolume(60, 40.01, 12));
    expect(volume.after / 2).toBeLessThan(ringVolume(60, bore - 0.05, 12));
    expect(report.box.after).toEqual(report.box.before);
  });

  it('is a plain ring where it is fins that stand alone on a cylinder', async () => {
    const fins = Array.from({ length: 12 }, (_, n) =>
      boxAt(12, 2, 30, [26, 0, 5]).rotate(30 * n, [0, 0, 0], [0, 0, 1]),
    );
    const body = fins.reduce((all, fin) => all.fuse(fin) as Shape3D, roundBar(25, 40));
    const { faces, volume } = await rounded(body);
    const outer = Math.hypot(32, 1);
    expect(volume.after / 2).toBeCloseTo(ringVolume(outer, 0, 30) + ringVolume(25, 0, 10), -1);
    expect(faces).toBe(7);
  });

  it('is known for a thread where it winds, and is cut away before its ring is filled', async () => {
    const worm = readFileSync(new URL('../../../demo/files/hx-12/azimuth-drive/worm.stp', import.meta.url));
    const files = new MemoryFileSet([['worm.stp', worm]]);
    const part = await openingsOf(await testContext(files, kernel), 'worm.stp');
    const meshes = await meshBodies(kernel, worm);
    const found = [...part.bodies].flatMap(([body, { topology, openings }]) =>
      findToothing(topology, openings, meshes.get(body)!),
    );
    expect(found).toMatchObject([{ isThread: true, isInternal: false }]);
    expect(found[0]!.outer).toBeCloseTo(18, 2);
    expect(found[0]!.inner).toBeCloseTo(14, 2);
    // The same way for teeth, of which more is known.
    const step = await stepOfShapes([without(toothed(24, 40, 45, 12), roundBar(10, 20, [0, 0, -4]))]);
    const [body] = new SourcePart('gear.stp', step).bodies;
    const line = { at: [0, 0, 0] as Vector3, axis: [0, 0, 1] as Vector3, from: 0, to: 12 };
    const filled = async (ring: { inner: number; isThread: boolean }) => {
      const rings = [{ ...line, ...ring, outer: 45, isInternal: false }];
      return (await kernel.run('roundOut', { step, bodies: [{ body: body!.id, rings }] }))[0]!;
    };
    const round = await filled({ inner: 39.9, isThread: true });
    expect(round).toMatchObject({ facts: { faces: 4 } });
    expect((round as TrimmedShape).facts.volume).toBeCloseTo(ringVolume(45, 10, 12), 1);
    // A ring that reached through the wall to the bore would close that.
    expect(await filled({ inner: 10.5, isThread: false })).toBe('What they stand on is too thin.');
  });

  it('is left alone where it is a nut, a circle of bolts, or a plate with studs on it', async () => {
    const nut = without(
      drawPolysides(20, 6).sketchOnPlane('XY').extrude(12) as Shape3D,
      roundBar(10, 20, [0, 0, -4]),
    );
    const holes = spots(12, 40).map(([x, y]) => roundBar(4, 20, [x, y, -4]));
    const flange = without(ring(55, 20, 12), ...holes);
    const notched = without(roundBar(40, 10), ...spots(4, 40).map(([x, y]) => roundBar(5, 20, [x, y, -4])));
    for (const body of [nut, flange, notched]) {
      const { report, warnings } = await rounded(body);
      expect(report.removed.rounded).toEqual([]);
      expect(report.after.faces).toBe(report.before.faces);
      expect(warnings).toEqual([]);
    }
  });
});
