import { PNG } from 'pngjs';
import { afterAll, describe, expect, it } from 'vitest';
import type { BodyShape } from '#core/geometry/shape/body-shape';
import type { Kernel, ShapeOptions } from '#core/geometry/shape/kernel';
import { KERNEL_VERSION } from '#core/geometry/shape/kernel';
import { write } from '#core/project/change/change-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { getBlob } from '#server/db/blobs';
import { closeDatabase } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { cancelShapes, requestShapes, retryShapes, shapesOf } from '#server/jobs/shapes';
import { ProjectFileSet } from '#server/projects/files/project-files';
import { loadProject } from '#server/projects/scan/project-scan';
import { testProject } from '#server/testing';
import { filePicture, withPictures } from '#server/views/files/file-picture';
import { Pictures } from '#server/views/structure/scene';
import { drawMissingPictures, failShapes, makeShapes } from './make-shapes';

afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

const MESH = {
  positions: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0),
  normals: Float32Array.of(0, 0, 1, 0, 0, 1, 0, 0, 1),
  triangles: Uint32Array.of(0, 1, 2),
  faceGroups: Uint32Array.of(0, 3),
  edges: new Float32Array(),
  chord: 0.01,
};
const FACTS = {
  volume: 1,
  area: 1,
  centre: [0, 0, 0] as [number, number, number],
  moments: [1, 1, 1] as [number, number, number],
  box: [0, 0, 0, 1, 1, 0] as [number, number, number, number, number, number],
  boxTolerance: 0,
  faces: 1,
};

/** A kernel that does as it is told, body by body. */
function kernelThat(
  shape: (body: number, nth: number) => BodyShape,
  between: (nth: number) => Promise<void> = async () => {},
): Kernel {
  return {
    version: KERNEL_VERSION,
    run: () => Promise.reject(new Error('not asked for')),
    close: async () => {},
    async shapeBodies(_step, bodies, options: ShapeOptions = {}) {
      const shapes: BodyShape[] = [];
      for (const [n, body] of bodies.entries()) {
        options.signal?.throwIfAborted();
        shapes.push(shape(body, n));
        options.onBody?.(n + 1, bodies.length);
        await between(n);
      }
      return shapes;
    },
  };
}
const good = (body: number): BodyShape => ({
  body,
  mesh: MESH,
  facts: FACTS,
  features: [],
  exact: { faces: [], edges: [] },
});

async function place(boxes = 3) {
  const content = writeBoxPart({
    id: `S-${crypto.randomUUID()}`,
    // Of a size of its own: contents of one geometry share their shapes.
    boxes: Array.from({ length: boxes }, (_, n) => ({
      corner: [n * 20, 0, 0] as const,
      size: [10 + Math.random(), 10, 10] as const,
    })),
  });
  const made = await testProject(
    new MemoryFileSet([
      ['part.stp', content],
      ['notes.txt', 'no shape'],
    ]),
  );
  const project = await loadProject(made.db, made.project);
  return {
    ...made,
    scanned: project,
    job: { sha256: project.files.get('part.stp')!.sha256, extension: 'stp' },
  };
}

describe('shapes', () => {
  it('are asked for once for each content that has bodies', async () => {
    const { db, scanned, job, project } = await place();
    expect(await requestShapes(db, scanned)).toBe(1);
    expect(await requestShapes(db, scanned)).toBe(0);
    expect([...(await shapesOf(db, scanned, project)).values()]).toMatchObject([
      { sha256: job.sha256, state: 'waiting' },
    ]);
  });

  it('are stored as glTF with their facts', async () => {
    const { db, scanned, job, project } = await place();
    await requestShapes(db, scanned);
    await makeShapes(db, kernelThat(good), job);
    const state = (await shapesOf(db, scanned, project)).get(job.sha256)!;
    expect(state).toMatchObject({ state: 'done', done: 3, total: 3, error: null });
    expect(state.bodies!.map(({ facts }) => facts)).toEqual([FACTS, FACTS, FACTS]);
    expect((await getBlob(db, state.gltf!)).toString('latin1', 0, 4)).toBe('glTF');
  });

  it('go on when the kernel refuses one body, and fail when it refuses all', async () => {
    const { db, scanned, job, project } = await place();
    await requestShapes(db, scanned);
    await makeShapes(
      db,
      kernelThat((body, n) => (n === 1 ? { body, error: 'no' } : good(body))),
      job,
    );
    const state = (await shapesOf(db, scanned, project)).get(job.sha256)!;
    expect(state.state).toBe('done');
    expect(state.bodies!.map(({ error }) => error)).toEqual([undefined, 'no', undefined]);

    await db('shapes').where('sha256', job.sha256).update({ state: 'waiting' });
    await makeShapes(
      db,
      kernelThat((body) => ({ body, error: 'not this file' })),
      job,
    );
    expect((await shapesOf(db, scanned, project)).get(job.sha256)).toMatchObject({
      state: 'failed',
      error: 'not this file',
      gltf: null,
    });
  });

  it('stop when they are cancelled, and can be tried again', async () => {
    const { db, scanned, job, project } = await place(6);
    await requestShapes(db, scanned);
    const made: number[] = [];
    const kernel = kernelThat(
      (body, n) => {
        made.push(n);
        return good(body);
      },
      async (n) => {
        if (n === 1) await cancelShapes(db, scanned);
        await new Promise((resolve) => setTimeout(resolve, 60));
      },
    );
    await expect(makeShapes(db, kernel, job)).rejects.toThrow();
    expect(made.length).toBeLessThan(6);
    await failShapes(db, job.sha256, 'aborted');
    expect((await shapesOf(db, scanned, project)).get(job.sha256)!.state).toBe('cancelled');
    // A job for cancelled work that comes late does nothing.
    await makeShapes(db, kernelThat(good), job);
    expect((await shapesOf(db, scanned, project)).get(job.sha256)!.state).toBe('cancelled');

    await retryShapes(db, scanned);
    expect((await shapesOf(db, scanned, project)).get(job.sha256)!.state).toBe('waiting');
    await makeShapes(db, kernelThat(good), job);
    expect((await shapesOf(db, scanned, project)).get(job.sha256)!.state).toBe('done');
  });

  it('have a small picture in the colours of the file, also where they are taken over', async () => {
    const size = [10 + Math.random(), 20, 30] as const;
    const part = (colour: string) => writeBoxPart({ id: colour, boxes: [{ size, colour }] });
    const { db, project } = await testProject(
      new MemoryFileSet([
        ['red.stp', part('#ff0000')],
        ['blue.stp', part('#0000ff')],
      ]),
    );
    const scanned = await loadProject(db, project);
    await requestShapes(db, scanned);
    const contents = ['red.stp', 'blue.stp'].map((path) => scanned.files.get(path)!);
    expect(await withPictures(db, project, contents)).toEqual(new Set());
    for (const { sha256 } of contents) await makeShapes(db, kernelThat(good), { sha256, extension: 'stp' });
    expect(await withPictures(db, project, contents)).toEqual(new Set(['red.stp', 'blue.stp']));
    const colours = await Promise.all(
      contents.map(async ({ path }) => {
        const found = (await filePicture(db, project, path)) as { png: Buffer };
        const { data } = PNG.sync.read(found.png);
        let [red, blue] = [0, 0];
        for (let n = 0; n < data.length; n += 4)
          if (data[n + 3]! > 0) [red, blue] = [red + data[n]!, blue + data[n + 2]!];
        return red > blue ? 'red' : 'blue';
      }),
    );
    expect(colours).toEqual(['red', 'blue']);
    // What was made before there were pictures gets one.
    const { sha256 } = contents[0]!;
    await db('shapes').where({ sha256 }).update({ picture: null });
    await drawMissingPictures(db, 10_000);
    expect(await withPictures(db, project, contents)).toEqual(new Set(['red.stp', 'blue.stp']));
    expect(await filePicture(db, project, 'gone.stp')).toBeUndefined();
  });

  it('are taken over by contents that differ in names or links only', async () => {
    const size = [10 + Math.random(), 20, 30] as const;
    const part = (name: string) => writeBoxPart({ id: name, name, boxes: [{ name: 'one', size }] });
    const { db, project } = await testProject(
      new MemoryFileSet([
        ['a.stp', part('a')],
        ['b.stp', part('b')],
        ['c.stp', writeBoxPart({ id: 'c', boxes: [{ size }], unit: 'in' })],
      ]),
    );
    const scanned = await loadProject(db, project);
    await requestShapes(db, scanned);
    const asked: number[] = [];
    const kernel = kernelThat((body) => {
      asked.push(body);
      return good(body);
    });
    for (const path of ['a.stp', 'b.stp', 'c.stp'])
      await makeShapes(db, kernel, { sha256: scanned.files.get(path)!.sha256, extension: 'stp' });
    // Once for both that are alike, once for the one in inches.
    expect(asked).toHaveLength(2);
    const shapes = await shapesOf(db, scanned, project);
    const [a, b, c] = ['a.stp', 'b.stp', 'c.stp'].map((path) => shapes.get(scanned.files.get(path)!.sha256)!);
    expect(b).toMatchObject({ state: 'done', done: 1, total: 1, gltf: a!.gltf, bodies: a!.bodies });
    expect(c).toMatchObject({ state: 'done', total: 1 });
  });

  it('are stood in for by those of an older version, or of an older kernel, until they are made', async () => {
    const part = (length: number) =>
      writeBoxPart({ id: 'V', boxes: [{ size: [length, 20, 30] }, { corner: [90, 0, 0] }] });
    const [first, second] = [part(10 + Math.random()), part(40 + Math.random())];
    const { db, project, owner } = await testProject(new MemoryFileSet([['a.stp', first]]));
    const older = await loadProject(db, project);
    await requestShapes(db, older);
    const { sha256 } = older.files.get('a.stp')!;
    await makeShapes(db, kernelThat(good), { sha256, extension: 'stp' });
    const made = (await shapesOf(db, older, project)).get(sha256)!;

    await new ProjectFileSet(db, project, owner.id).applyAs({
      summary: 'Longer',
      changes: [write('a.stp', sha256, second)],
      rewires: [],
      warnings: [],
    });
    const newer = await loadProject(db, project);
    await requestShapes(db, newer);
    const next = newer.files.get('a.stp')!;
    const waiting = await shapesOf(db, newer, project);
    expect(waiting.get(next.sha256)).toMatchObject({ state: 'waiting', other: { sha256, gltf: made.gltf } });
    const ids = next.scan.products.flatMap(({ bodies }) => bodies.map(({ id }) => id));
    const pictures = new Pictures(newer, waiting, project);
    expect(ids.map((id) => pictures.of(next.sha256, id, { colour: null }))).toEqual(
      ids.map((id) => ({
        url: `/projects/${project}/shapes/${sha256}/${made.gltf}`,
        node: String(id),
        colour: null,
        isOlder: true,
      })),
    );
    await makeShapes(db, kernelThat(good), { sha256: next.sha256, extension: 'stp' });
    const ready = await shapesOf(db, newer, project);
    expect(new Pictures(newer, ready, project).of(next.sha256, ids[0]!, { colour: null })).toMatchObject({
      url: expect.stringContaining(next.sha256),
      box: [0, 0, 0, 1, 1, 0],
    });
    // As after the kernel was renewed: the same content, made by another one.
    await db('shapes').where('sha256', next.sha256).update({ kernel: 'older' });
    await requestShapes(db, newer);
    const renewed = await shapesOf(db, newer, project);
    expect(renewed.get(next.sha256)).toMatchObject({ state: 'waiting', other: { sha256: next.sha256 } });
  });

  it('that cannot be made are told from those that are still to come', async () => {
    const { db, scanned, job, project } = await place(1);
    await requestShapes(db, scanned);
    const body = scanned.files.get('part.stp')!.scan.products[0]!.bodies[0]!.id;
    const shown = async () =>
      new Pictures(scanned, await shapesOf(db, scanned, project), project).of(job.sha256, body, {
        colour: null,
      });
    expect(await shown()).toEqual({ url: null, node: String(body), colour: null });
    await makeShapes(
      db,
      kernelThat((one) => ({ body: one, error: 'not this one' })),
      job,
    );
    expect(await shown()).toEqual({ url: null, node: String(body), colour: null, failed: true });
  });
});
