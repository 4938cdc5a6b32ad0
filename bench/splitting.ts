import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { findCongruent } from '#core/geometry/shape/congruence/congruence';
import type { ShapeFeatures } from '#core/geometry/shape/features';
import { OcctStepFile, startOcct } from '#core/geometry/shape/occt';
import { splitChoices } from '#core/jobs/split/choices';
import { openSource, outlineSplit, planSplit } from '#core/jobs/split/plan';
import { planningOn } from '#core/planning';
import { transformPoint } from '#core/product/matrix';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { compare, type Result } from './measure';

const FRAME = path.join(import.meta.dirname, '../demo/files/hx-12/mirror/mirror-frame.stp');

/** Splitting a part of about 50 bodies, and finding which of many bodies are the same. */
export async function splitting(): Promise<Result[]> {
  // 1. The split without the search, bytes to bytes.
  const files = new MemoryFileSet([['frame.stp', readFileSync(FRAME)]]);
  const project = await scanFileSet(files);
  const choices = splitChoices({ merge: false });
  const split = await compare(
    async () => {
      const outline = outlineSplit(project, await openSource(files, 'frame.stp'), choices, new Map());
      await planSplit(planningOn(project, files), { outline, choices });
    },
    () => createHash('sha256').update(readFileSync(FRAME)).digest('hex'),
    61,
    40,
  );

  // 2. The search: the frame's bodies, and many more made of them, each a little larger than the one before.
  const shapes = await frameShapes();
  const many = (count: number) =>
    Array.from({ length: count }, (_, n) =>
      scaled(shapes[n % shapes.length]!, 1 + 0.01 * Math.floor(n / shapes.length)),
    );
  const [small, middle, large] = [many(50), many(200), many(1000)];
  const fourfold = await compare(
    () => findCongruent(middle),
    () => findCongruent(small),
    15,
  );
  const fivefold = await compare(
    () => findCongruent(large),
    () => findCongruent(middle),
    9,
  );

  // 3. Against the kernel: one boolean of each body with its neighbour, where pairwise comparison takes one of each pair.
  const booleans = await timeOfBooleans(6);
  const search = await compare(
    () => findCongruent(shapes),
    () => findCongruent(shapes),
    9,
  );
  const pairs = (shapes.length * (shapes.length - 1)) / 2;
  const bytes = readFileSync(FRAME).byteLength;
  const { length } = new SourcePart('frame.stp', readFileSync(FRAME)).bodies;
  return [
    {
      what: 'Splitting a part, without the search for the same shapes',
      against: 'reading and hashing its bytes',
      ratio: split.ratio,
      goal: { most: 10 },
      note: `${(bytes / 1e6).toFixed(1)} MB, ${length} bodies to ${length} files`,
    },
    {
      what: 'Search for the same shapes, 200 bodies',
      against: 'the same over 50',
      ratio: fourfold.ratio,
      goal: { most: 5 },
      note: 'most of them differ; 4 is linear',
    },
    {
      what: 'Search for the same shapes, 1,000 bodies',
      against: 'the same over 200',
      ratio: fivefold.ratio,
      goal: { most: 7 },
      note: 'most of them differ; 5 is linear',
    },
    {
      what: 'Comparing the bodies in pairs by the kernel’s booleans',
      against: 'our search',
      ratio: (booleans * pairs) / search.a,
      goal: { least: 100 },
      note: `${length} bodies; ${pairs} pairs, each taken as long as the median of 6`,
    },
  ];
}

async function frameShapes(): Promise<ShapeFeatures[]> {
  const oc = await startOcct();
  const source = new SourcePart('frame.stp', readFileSync(FRAME));
  using file = new OcctStepFile(oc, source.file.bytes, new Set(source.bodies.map(({ id }) => id)));
  return source.bodies.map(({ id }) => {
    const shape = file.shape(id, { mesh: false });
    if (!('features' in shape)) throw new Error(shape.error);
    const { box, ...facts } = shape.facts;
    const diagonal = Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
    return { ...facts, diagonal, features: shape.features };
  });
}

function scaled(shape: ShapeFeatures, by: number): ShapeFeatures {
  const matrix = [by, 0, 0, 0, 0, by, 0, 0, 0, 0, by, 0, 0, 0, 0, 1];
  const move = (at: [number, number, number]) => [...transformPoint(matrix, at)] as [number, number, number];
  return {
    volume: shape.volume * by ** 3,
    area: shape.area * by ** 2,
    centre: move(shape.centre),
    moments: shape.moments.map((moment) => moment * by ** 5) as ShapeFeatures['moments'],
    diagonal: shape.diagonal * by,
    features: shape.features.map(({ kind, size, radius, at }) => ({
      kind,
      size: size * (kind.startsWith('face') ? by ** 2 : by),
      radius: radius * by,
      at: move(at),
    })),
  };
}

/** Milliseconds that the kernel takes for the common part of two bodies of the frame: the median of some pairs. */
async function timeOfBooleans(pairs: number): Promise<number> {
  const oc = await startOcct();
  const source = new SourcePart('frame.stp', readFileSync(FRAME));
  using file = new OcctStepFile(oc, source.file.bytes, new Set(source.bodies.map(({ id }) => id)));
  const times = Array.from({ length: pairs }, (_, n) => {
    const start = performance.now();
    file.commonVolume(source.bodies[n * 7]!.id, source.bodies[n * 7 + 1]!.id);
    return performance.now() - start;
  });
  return times.sort((a, b) => a - b)[pairs >> 1]!;
}
