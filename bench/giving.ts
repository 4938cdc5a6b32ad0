import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { meshBodies } from '#core/geometry/bodies/measure';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { reachOf } from '#core/geometry/reach/classes';
import { reachedFaces } from '#core/geometry/reach/reached';
import { decide } from '#core/geometry/reduce/decide';
import { type ReducedPart, writeReduced } from '#core/geometry/reduce/write-reduced';
import { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';
import { boxOfBodies, readWhole, type Whole } from '#core/geometry/whole/whole';
import { liteChoices } from '#core/jobs/lite/choices';
import { type PlanContext, planningOn } from '#core/planning';
import { placementFromAxes } from '#core/product/matrix';
import { FolderFileSet } from '#core/project/change/folder/folder';
import { scanFileSet } from '#core/project/scan/scan';
import { compare, type Result } from './measure';

const DRIVE = 'azimuth-drive/azimuth-drive.stp';
/** mm. */
const GAP = 16;

/** What making things lighter costs. */
export async function giving(): Promise<Result[]> {
  const files = await FolderFileSet.open(path.join(import.meta.dirname, '../demo/files/hx-12'));
  const project = await scanFileSet(files);
  const kernel = new ThreadedKernel();
  const meshes = async (file: string) => meshBodies(kernel, await files.read(file));
  const context = { ...planningOn(project, files), meshes } as unknown as PlanContext;
  const whole = await readWhole(context, DRIVE);
  const paths = [...new Set(whole.shapes.map(({ file }) => file))];
  const reach = await compare(
    () => reachOf(whole, GAP),
    async () => {
      for (const file of paths) await meshes(file);
    },
    1,
    0,
  );

  // The text of all parts, as for a lite model that leaves nothing out.
  const sources = new Map(
    await Promise.all(
      paths.map(async (file) => [file, new SourcePart(file, await files.read(file))] as const),
    ),
  );
  const parts = whole.occurrences.map(
    ({ name, place, placement }): ReducedPart => ({
      source: sources.get(place.path)!,
      product: place.product,
      bodies: place.product.bodies.map(({ id }) => id),
      placings: [{ name, placement, members: [] }],
    }),
  );
  const distinct = parts.filter((part, n) => parts.findIndex(({ source }) => source === part.source) === n);
  const lite = {
    id: 'L',
    name: 'L',
    fileName: 'l.stp',
    timeStamp: '',
    form: 'assembly' as const,
    forget: new Set<never>(),
    ties: [],
  };
  const work = mkdtempSync(path.join(os.tmpdir(), 'stonetray-bench-'));
  const written = await compare(
    () => writeReduced({ ...lite, parts: distinct }),
    () => {
      let n = 0;
      for (const file of paths) {
        const bytes = readFileSync(path.join(files.root, file));
        writeFileSync(path.join(work, String(n++)), bytes, { flush: true });
      }
    },
    9,
  );
  rmSync(work, { recursive: true, force: true });

  const [some, many] = [multiplied(whole, 15), multiplied(whole, 68)];
  const choices = liteChoices({ smallerThan: 2, hidden: true });
  const steps = async (of: Whole) => {
    const gap = 0.02 * Math.hypot(of.box[3] - of.box[0], of.box[4] - of.box[1], of.box[5] - of.box[2]);
    decide(
      of,
      {
        reached: await reachedFaces(of, gap),
        bodies: of.bodies.map(() => ({ class: 'reached', faces: 1, share: 1, from: null })),
      },
      choices,
    );
  };
  const grown = await compare(
    () => steps(many),
    () => steps(some),
    1,
    0,
  );
  await kernel.close();
  const placings = (of: Whole) => of.bodies.length.toLocaleString('en');
  return [
    {
      what: 'What of the drive is reached, and what is only seen',
      against: 'meshing its files',
      ratio: reach.ratio,
      goal: { most: 4 },
      note: `74 bodies, gap ${GAP} mm`,
    },
    {
      what: 'Text of a lite model',
      against: 'reading and writing the same bytes on disk',
      ratio: written.ratio,
      goal: { most: 3 },
      note: `${paths.length} files of the drive, labels and all`,
    },
    {
      what: `What is left out of ${placings(many)} placings`,
      against: `the same of ${placings(some)}`,
      ratio: grown.ratio,
      goal: { most: 6 },
      note: `the drive over and over, ${(grown.a / 1000).toFixed(0)} s in all; 4.5 is linear`,
    },
  ];
}

/** The same whole many times side by side. */
function multiplied(whole: Whole, times: number): Whole {
  const [width, depth] = [whole.box[3] - whole.box[0] + 50, whole.box[4] - whole.box[1] + 50];
  const many: Whole = { ...whole, occurrences: [], bodies: [] };
  const side = Math.ceil(Math.sqrt(times));
  for (let n = 0; n < times; n++) {
    const shift = placementFromAxes([(n % side) * width, Math.floor(n / side) * depth, 0]);
    const moved = (m: readonly number[]) =>
      m.map((value, at) => value + (at === 3 ? shift[3]! : at === 7 ? shift[7]! : 0));
    for (const occurrence of whole.occurrences) {
      const at = many.occurrences.length;
      const bodies = occurrence.bodies.map((body) => {
        const { shape, placement } = whole.bodies[body]!;
        return many.bodies.push({ shape, occurrence: at, placement: moved(placement) }) - 1;
      });
      many.occurrences.push({
        ...occurrence,
        key: `${n} / ${occurrence.key}`,
        placement: moved(occurrence.placement),
        bodies,
      });
    }
  }
  many.box = boxOfBodies(many, many.bodies.keys());
  return many;
}
