import { readFile } from 'node:fs/promises';
import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { numberOf, type Parameter } from '#core/files/part21/parameters';
import { scanContent } from '#core/project/scan/content';
import { writeBoxPart } from '#core/testing/box-part';
import { kernel } from '#core/testing/kernel';
import type { BodyMesh } from './body';
import type { BodyShape } from './body-shape';
import { packGltf } from './gltf';
import { coarserLevels } from './levels';
import { ThreadedKernel } from './threaded-kernel';

const bodiesOf = (bytes: Uint8Array) =>
  scanContent('x.stp', bytes).products.flatMap(({ bodies }) => bodies.map(({ id }) => id));
const factsOf = (shape: BodyShape | undefined) => {
  if (!shape || 'error' in shape) throw new Error(shape?.error ?? 'no shape');
  return shape.facts;
};

/** Largest distance of a mesh's points from the plane that the file gives a face; undefined for other surfaces. */
function offPlane(file: Part21File, face: number, points: number[][]): number | undefined {
  const surface = file.referenceOf(face, 2)!;
  if (file.typeOf(surface) !== 'PLANE') return undefined;
  const axes = file.referenceOf(surface, 1)!;
  const [at, normal] = [1, 2].map((n) =>
    (file.parameters(file.referenceOf(axes, n)!)![1] as Parameter[]).map((value) => numberOf(value)!),
  ) as [number[], number[]];
  return Math.max(
    ...points.map((point) =>
      Math.abs(point.reduce((sum, value, n) => sum + (value - at[n]!) * normal[n]!, 0)),
    ),
  );
}

describe('the geometry kernel', () => {
  it('gives the faces in the order of the file’s shells, each with points of its own', async () => {
    const file = Part21File.read(await readFile('demo/files/hx-12/azimuth-drive/az-housing.stp'));
    const [body] = bodiesOf(file.bytes);
    const [shape] = await kernel.shapeBodies(file.bytes, [body!]);
    if (!shape || !('mesh' in shape)) throw new Error('no mesh');
    const { faceGroups, triangles, positions } = shape.mesh!;
    const faces = file.referencesOf(file.referenceOf(body!, 1), 1);
    expect(faceGroups.length).toBe(2 * faces.length);
    const owner = new Map<number, number>();
    let planes = 0;
    for (const [n, face] of faces.entries()) {
      const [first, count] = [faceGroups[2 * n]!, faceGroups[2 * n + 1]!];
      const vertices = [...new Set(triangles.subarray(first, first + count))];
      for (const vertex of vertices) {
        expect(owner.has(vertex)).toBe(false);
        owner.set(vertex, n);
      }
      const off = offPlane(
        file,
        face,
        vertices.map((v) => [...positions.subarray(3 * v, 3 * v + 3)]),
      );
      if (off === undefined) continue;
      expect(off).toBeLessThan(1e-3);
      planes++;
    }
    expect(planes).toBeGreaterThan(20);
  });

  it.each([
    ['mm', 1],
    ['in', 25.4],
    ['m', 1000],
  ] as const)('measures a box in %s exactly, in millimetres', async (unit, scale) => {
    const bytes = writeBoxPart({ id: 'B', unit, boxes: [{ corner: [1, 2, 3], size: [10, 20, 30] }] });
    const [shape] = await kernel.shapeBodies(bytes, bodiesOf(bytes));
    const { volume, area, centre, moments, box, faces } = factsOf(shape);
    expect(volume / scale ** 3).toBeCloseTo(6000, 6);
    expect(area / scale ** 2).toBeCloseTo(2200, 6);
    expect(centre.map((value) => value / scale)).toEqual([
      expect.closeTo(6, 6),
      expect.closeTo(12, 6),
      expect.closeTo(18, 6),
    ]);
    box.forEach((value, n) => expect(value / scale).toBeCloseTo([1, 2, 3, 11, 22, 33][n]!, 4));
    // V (a² + b²) / 12 about the axis along the third side.
    moments.forEach((moment, n) =>
      expect(moment / scale ** 5).toBeCloseTo([250_000, 500_000, 650_000][n]!, 3),
    );
    expect(faces).toBe(6);
  });

  it('gives closed meshes with normals, face groups and edges', async () => {
    const bytes = writeBoxPart({ id: 'B', boxes: [{}, { corner: [50, 0, 0] }] });
    const shapes = await kernel.shapeBodies(bytes, bodiesOf(bytes));
    expect(shapes.map(({ body }) => body)).toEqual(bodiesOf(bytes));
    for (const shape of shapes) {
      if (!('mesh' in shape)) throw new Error(shape.error);
      const { positions, normals, triangles, faceGroups, edges } = shape.mesh!;
      expect(normals.length).toBe(positions.length);
      expect(triangles.length).toBe(36);
      expect(faceGroups.length).toBe(12);
      expect(edges.length % 6).toBe(0);
      // Divergence theorem: a closed mesh with outward triangles encloses the body's own volume.
      let volume = 0;
      for (let t = 0; t < triangles.length; t += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => [
          ...positions.subarray(triangles[t + k]! * 3, triangles[t + k]! * 3 + 3),
        ]) as [number[], number[], number[]];
        volume +=
          (a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) +
            a[1]! * (b[2]! * c[0]! - b[0]! * c[2]!) +
            a[2]! * (b[0]! * c[1]! - b[1]! * c[0]!)) /
          6;
      }
      expect(volume).toBeCloseTo(1000, 3);
    }
    const glb = Buffer.from(await packGltf(shapes));
    expect(glb.toString('latin1', 0, 4)).toBe('glTF');
    expect(glb.includes('EXT_meshopt_compression')).toBe(true);
  });

  it('meshes every body of a real housing and agrees with its facts', async () => {
    const bytes = await readFile(
      new URL('../../../demo/files/hx-12/azimuth-drive/output-flange.stp', import.meta.url),
    );
    const [shape] = await kernel.shapeBodies(bytes, bodiesOf(bytes));
    const { volume, box } = factsOf(shape);
    expect(volume).toBeGreaterThan(500_000);
    expect(box[3] - box[0]).toBeCloseTo(260, 3);
  });

  it('knows the surfaces and curves of a body exactly, face by face as it is meshed', async () => {
    const bytes = await readFile('demo/files/hx-12/azimuth-drive/output-flange.stp');
    const [shape] = await kernel.shapeBodies(bytes, bodiesOf(bytes));
    if (!shape || 'error' in shape) throw new Error(shape?.error);
    const { faces, edges } = shape.exact;
    expect(faces.length).toBe(shape.mesh!.faceGroups.length / 2);
    expect(faces.reduce((sum, { area }) => sum + area, 0)).toBeCloseTo(shape.facts.area, 3);
    expect(faces).toContainEqual({
      kind: 'cylinder',
      area: expect.any(Number),
      at: [0, 0, 6],
      axis: [0, 0, 1],
      radius: 130,
    });
    expect(faces).toContainEqual({
      kind: 'torus',
      area: expect.any(Number),
      at: [0, 0, 26],
      axis: [0, 0, 1],
      radius: 128,
      tube: 2,
    });
    // Its two large planes face away from each other.
    expect(
      faces.flatMap((face) => (face.kind === 'plane' && face.area > 30_000 ? [face.normal[2]] : [])),
    ).toEqual([-1, 1]);
    expect(edges).toContainEqual(
      expect.objectContaining({ kind: 'circle', radius: 128, length: 804.2477193 }),
    );
    // The points of the mesh lie on the surfaces.
    const { positions, triangles, faceGroups } = shape.mesh!;
    for (const [n, face] of faces.entries()) {
      if (face.kind !== 'cylinder' && face.kind !== 'plane' && face.kind !== 'cone') continue;
      const [first, count] = [faceGroups[2 * n]!, faceGroups[2 * n + 1]!];
      for (const vertex of triangles.subarray(first, first + count)) {
        const off = [0, 1, 2].map((axis) => positions[3 * vertex + axis]! - face.at[axis]!);
        const along = off.reduce(
          (sum, value, axis) => sum + value * ('axis' in face ? face.axis : face.normal)[axis]!,
          0,
        );
        if (face.kind === 'plane') expect(along).toBeCloseTo(0, 3);
        else {
          const away = Math.sqrt(Math.max(0, Math.hypot(...off) ** 2 - along ** 2));
          const slope = face.kind === 'cone' ? Math.tan(face.halfAngle) : 0;
          expect(
            Math.min(
              Math.abs(away - face.radius - along * slope),
              Math.abs(away - face.radius + along * slope),
            ),
          ).toBeLessThan(1e-3);
        }
      }
    }
  });

  it('makes coarser levels of a mesh, each of fewer triangles and as near as it says', async () => {
    const bytes = await readFile('demo/files/hx-12/standard/nut-m24.stp');
    const [shape] = await kernel.shapeBodies(bytes, bodiesOf(bytes));
    if (!shape || 'error' in shape) throw new Error(shape?.error);
    const mesh = shape.mesh!;
    const levels = await coarserLevels(mesh);
    expect(levels.length).toBeGreaterThan(1);
    let [triangles, error] = [mesh.triangles.length, 0];
    for (const level of levels) {
      expect(level.triangles.length).toBeLessThanOrEqual(0.6 * triangles);
      expect(level.error).toBeGreaterThan(error);
      [triangles, error] = [level.triangles.length, level.error];
      // Its corners are corners of the whole mesh, and it fills the same box but for its error.
      for (const axis of [0, 1, 2]) {
        const reach = (indices: Uint32Array) =>
          Math.max(...Array.from(indices, (at) => mesh.positions[3 * at + axis]!));
        expect(reach(mesh.triangles) - reach(level.triangles)).toBeLessThanOrEqual(2 * level.error);
      }
    }
    const box = writeBoxPart({ id: 'B' });
    const [plain] = await kernel.shapeBodies(box, bodiesOf(box));
    expect(await coarserLevels((plain as { mesh: BodyMesh }).mesh)).toEqual([]);
  });

  it('reports a body that is not there and a file that is none, and goes on', async () => {
    const bytes = writeBoxPart({ id: 'B' });
    const shapes = await kernel.shapeBodies(bytes, [999_999, ...bodiesOf(bytes)]);
    expect(shapes[0]).toMatchObject({ error: expect.stringContaining('is not found') });
    expect(shapes[1]).toHaveProperty('mesh');
    expect(await kernel.shapeBodies(Buffer.from('no step file'), [1])).toMatchObject([
      { body: 1, error: expect.any(String) },
    ]);
    expect(await kernel.shapeBodies(bytes, bodiesOf(bytes))).toHaveLength(1);
  });
});

describe('a thread that misbehaves', () => {
  const script = (behaviour: string) =>
    new URL(
      `data:text/javascript,${encodeURIComponent(`
      import { parentPort as port } from 'node:worker_threads';
      port.on('message', ({ request: { bodies } }) => {
        for (const body of bodies) {
          port.postMessage({ type: 'told', told: { start: body } });
          if (body === 2) { ${behaviour} }
          port.postMessage({ type: 'told', told: { shape: { body, error: 'fine' } } });
        }
        port.postMessage({ type: 'done', result: null, memory: 0 });
      });
      port.postMessage({ type: 'ready' });
    `)}`,
    );

  it.each([
    ['dies', 'Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 200); process.exit(1)', 'crashed'],
    ['hangs', 'for (;;);', 'took longer'],
    [
      'breaks down',
      "throw new WebAssembly.RuntimeError('memory access out of bounds')",
      'the memory was not enough',
    ],
  ])('that %s on one body costs that body only', async (_, behaviour, words) => {
    const bad = new ThreadedKernel({ script: script(behaviour), secondsPerBody: 4 });
    const shapes = await bad.shapeBodies(new Uint8Array(), [1, 2, 3]);
    expect(shapes.map(({ body }) => body).sort()).toEqual([1, 2, 3]);
    expect(shapes.find(({ body }) => body === 2)).toMatchObject({ error: expect.stringContaining(words) });
    expect(shapes.find(({ body }) => body === 3)).toMatchObject({ error: 'fine' });
    await bad.close();
  });
});
