import { PNG } from 'pngjs';
import { afterAll, describe, expect, it } from 'vitest';
import type { Kernel } from '#core/geometry/shape/kernel';
import { KERNEL_VERSION } from '#core/geometry/shape/kernel';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { closeDatabase } from '#server/db/connection';
import { portraitImage, portraitRoots, portraitsOf } from '#server/jobs/portraits';
import { stopJobs } from '#server/jobs/queue';
import { requestShapes } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { testProject } from '#server/testing';
import { makePortraits } from './make-portraits';
import { makeShapes } from './make-shapes';

/** Every body is a slab that fills most of a picture. */
const kernel: Kernel = {
  version: KERNEL_VERSION,
  run: () => Promise.reject(new Error('not asked for')),
  close: async () => {},
  shapeBodies: async (_step, bodies) =>
    bodies.map((body) => ({
      body,
      mesh: {
        positions: Float32Array.of(0, 0, 0, 30, 0, 0, 0, 30, 0, 30, 30, 0),
        normals: Float32Array.of(0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1),
        triangles: Uint32Array.of(0, 1, 2, 1, 3, 2),
        faceGroups: Uint32Array.of(0, 6),
        edges: new Float32Array(),
        chord: 0.01,
      },
      facts: {
        volume: 0,
        area: 900,
        centre: [15, 15, 0],
        moments: [0, 0, 0],
        box: [0, 0, 0, 30, 30, 0],
        boxTolerance: 0,
        faces: 1,
      },
      features: [],
      exact: { faces: [], edges: [] },
    })),
};
afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

describe('portraits', () => {
  it('are drawn of the root assemblies, once there are shapes, and say what they show', async () => {
    const { db, project } = await testProject(
      new MemoryFileSet([
        [
          'part.stp',
          writeBoxPart({
            id: `P-${crypto.randomUUID()}`,
            boxes: [{ size: [20, 10 + Math.random(), 10], colour: '#ff0000' }],
          }),
        ],
        ['top.stp', testAssembly('TOP', [{ written: 'part.stp', id: 'P', times: 3 }])],
      ]),
    );
    const scanned = await loadProject(db, project);
    expect(portraitRoots(scanned)).toEqual(['top.stp']);
    await makePortraits(db, project);
    // Drawn, but of nothing.
    const before = (await portraitsOf(db, project)).get('top.stp')!;
    expect(before.isSeen).toBe(false);
    await requestShapes(db, scanned);
    await makeShapes(db, kernel, { sha256: scanned.files.get('part.stp')!.sha256, extension: 'stp' });
    await makePortraits(db, project);
    const after = (await portraitsOf(db, project)).get('top.stp')!;
    expect(after.isSeen).toBe(true);
    expect(after.shows).not.toBe(before.shows);
    const { width, height, data } = PNG.sync.read((await portraitImage(db, project, 'top.stp'))!);
    expect([width, height]).toEqual([360, 240]);
    const [red, green, , opacity] = data.subarray(4 * (120 * 360 + 180));
    expect(opacity).toBe(255);
    expect(red).toBeGreaterThan(100);
    expect(green).toBe(0);
  });
});
