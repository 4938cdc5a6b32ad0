import { z } from 'zod';
import type { ShapeFeatures } from '#core/geometry/shape/features';
import type { Kernel } from '#core/geometry/shape/kernel';
import { type MeasuredBody, placedShape } from '#core/geometry/shape/placed-shape';
import { MOST_CHOSEN } from '#core/misfit';
import { boxOff, emptyBox, growBox, sidesOf } from '#core/product/box';
import { IDENTITY } from '#core/product/matrix';
import type { FileSet } from '#core/project/change/file-set';
import type { Project } from '#core/project/scan/project';
import { structureTable } from '#core/project/scan/structure-table';
import { MOST_NODES } from '#core/project/scan/tree';
import { Refusal } from '#core/refusal';

/** What the result of a split is held against. */
export const SplitCheckRequest = z.object({
  /** The version of the source that was split. */
  sha256: z.string(),
  /** The bodies that were split off. */
  bodies: z.array(z.int()).max(MOST_CHOSEN),
  /** The product that was split, where it was not the whole file. */
  product: z.string().nullable().default(null),
  assembly: z.string(),
});

export type SplitCheckRequest = z.infer<typeof SplitCheckRequest>;

/** What a set of placed bodies amounts to, as the kernel measures it. */
export interface Sum {
  bodies: number;
  /** mm³. */
  volume: number;
  /** Centre of all volume, mm. */
  centre: [number, number, number];
  /** Smallest and largest x, y, z of all features, mm. */
  box: [number, number, number, number, number, number];
}

/** A split held against its source by the kernel. */
export interface SplitCheck {
  before: Sum;
  after: Sum;
  /** Part of the volume by which they differ. */
  volumeOff: number;
  /** How far the centres and the boxes are apart, mm. */
  centreOff: number;
  boxOff: number;
  /** Whether all of it is within a millionth of the size. */
  isSame: boolean;
}

/** Sums up the bodies of the source that were split off. */
export function sumOfBodies(
  bodies: readonly { id: number; placement?: readonly number[] }[],
  measured: ReadonlyMap<number, MeasuredBody>,
): Sum {
  return sum(
    bodies.flatMap(({ id, placement }) => placedShape(measured.get(id) ?? {}, placement ?? IDENTITY) ?? []),
  );
}

/** What is known of some bodies of a file, by number; undefined while it is not known yet. */
export type MeasureFile = (
  path: string,
  bodies: readonly number[],
) => Promise<ReadonlyMap<number, MeasuredBody> | undefined>;

/** Has the kernel measure bodies anew, from the files as they are. */
export function measureWith(kernel: Kernel, files: FileSet): MeasureFile {
  return async (path, bodies) => {
    const shapes = await kernel.shapeBodies(await files.read(path), bodies, { mesh: false });
    return new Map(shapes.flatMap((shape) => ('facts' in shape ? [[shape.body, shape] as const] : [])));
  };
}

/** Sums up everything that an assembly places. @returns undefined while not all of it is measured */
export async function sumOfAssembly(
  measure: MeasureFile,
  project: Project,
  assembly: string,
): Promise<Sum | undefined> {
  const table = structureTable(project, assembly, false);
  if (table.undrawn > 0)
    throw new Refusal(
      `${assembly} places more than ${MOST_NODES.toLocaleString('en')} bodies: too many to sum up.`,
    );
  const paths = new Map([...project.files.values()].map(({ path, sha256 }) => [sha256, path]));
  const wanted = new Map<string, Set<number>>();
  for (const { sha256, body } of table.bodies)
    wanted.set(sha256, (wanted.get(sha256) ?? new Set()).add(body));
  const measured = new Map<string, ReadonlyMap<number, MeasuredBody>>();
  for (const [sha256, bodies] of wanted) {
    const known = await measure(paths.get(sha256)!, [...bodies]);
    if (!known) return undefined;
    measured.set(sha256, known);
  }
  return sum(
    table.instances.flatMap(({ body, placement }) => {
      const { sha256, body: id } = table.bodies[body]!;
      return placedShape(measured.get(sha256)?.get(id) ?? {}, placement) ?? [];
    }),
  );
}

/** Compares before and after. */
export function compareSums(before: Sum, after: Sum): SplitCheck {
  const size = Math.max(1e-9, Math.hypot(...sidesOf(before.box)));
  const volumeOff = Math.abs(after.volume - before.volume) / Math.max(before.volume, 1e-9);
  const centreOff = Math.hypot(...before.centre.map((value, n) => value - after.centre[n]!));
  const off = boxOff(before.box, after.box);
  const isSame =
    before.bodies === after.bodies && volumeOff < 1e-6 && centreOff < 1e-6 * size && off < 1e-6 * size;
  return { before, after, volumeOff, centreOff, boxOff: off, isSame };
}

function sum(shapes: readonly ShapeFeatures[]): Sum {
  const volume = shapes.reduce((total, shape) => total + shape.volume, 0);
  const centre = [0, 1, 2].map(
    (n) =>
      shapes.reduce((total, shape) => total + shape.volume * shape.centre[n]!, 0) / Math.max(volume, 1e-9),
  ) as [number, number, number];
  const box = emptyBox();
  for (const { features } of shapes) for (const { at } of features) growBox(box, at);
  return { bodies: shapes.length, volume, centre, box };
}
