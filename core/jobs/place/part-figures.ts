import { toleranceFor } from '#core/geometry/shape/congruence/congruence';
import { findMotion } from '#core/geometry/shape/congruence/motion';
import type { ShapeFeatures } from '#core/geometry/shape/features';
import { type MeasuredBody, placedShape } from '#core/geometry/shape/placed-shape';
import type { PlanContext } from '#core/planning';
import { type Box, diagonalOf, emptyBox, growBox } from '#core/product/box';
import { IDENTITY, type Matrix4, multiply, transformPoint, type Vector3 } from '#core/product/matrix';
import { type ProductPlace, placingsOf } from '#core/project/scan/tree';
import { Refusal } from '#core/refusal';

/** What is measured of a part, with all that it places, in its own coordinates. */
export interface PartFigures {
  file: string;
  name: string;
  /** Of its file, as it is written there. */
  unit: string | null;
  bodies: number;
  /** mm³ */
  volume: number;
  /** mm; around the boxes of its bodies. Null where it has none that could be measured. */
  box: Box | null;
}

/** The figures, and the features by which one part is laid on another; null for those where some body cannot be read. */
export interface MeasuredPart {
  figures: PartFigures;
  shape: ShapeFeatures | null;
}

/** More bodies than that are not compared one by one. */
const MOST_BODIES = 2000;

/** @returns null while its bodies are still being measured, or where there are too many of them */
export async function measuredPart(
  { project, measured }: Pick<PlanContext, 'project' | 'measured'>,
  place: ProductPlace,
): Promise<MeasuredPart | null> {
  const box = emptyBox();
  const shapes: (ShapeFeatures | null)[] = [];
  const known = new Map<string, ReadonlyMap<number, MeasuredBody>>();
  let volume = 0;
  const open: { place: ProductPlace; placement: Matrix4; depth: number }[] = [
    { place, placement: IDENTITY, depth: 0 },
  ];
  for (let next = open.pop(); next; next = open.pop()) {
    const { place: at, placement, depth } = next;
    const { path, product } = at;
    if (product.bodies.length > 0) {
      const facts = known.get(path) ?? (await measuredNow(measured, path));
      if (!facts) return null;
      known.set(path, facts);
      for (const body of product.bodies) {
        if (shapes.length === MOST_BODIES) return null;
        const own = facts.get(body.id);
        const where = body.placement ? multiply(placement, body.placement) : placement;
        shapes.push(own ? placedShape(own, where) : null);
        if (!own?.facts) continue;
        volume += own.facts.volume;
        for (const corner of cornersOf(own.facts.box)) growBox(box, transformPoint(where, corner));
      }
    }
    // What contains itself has no end.
    if (depth > 50) return null;
    for (const { target, placement: own } of placingsOf(project, at))
      open.push({ place: target, placement: multiply(placement, own), depth: depth + 1 });
  }
  const { scan } = project.files.get(place.path)!;
  const figures: PartFigures = {
    file: place.path,
    name: place.product.name,
    unit: scan.unit,
    bodies: shapes.length,
    volume,
    box: box[0] > box[3] ? null : box,
  };
  return { figures, shape: together(shapes, box) };
}

/** Null while the kernel is still at it. */
async function measuredNow(measured: PlanContext['measured'], path: string) {
  try {
    return await measured(path);
  } catch (error) {
    if (error instanceof Refusal) return null;
    throw error;
  }
}

/** The rigid motion that lays one part on another of the same shape. */
export function motionBetween(from: MeasuredPart, to: MeasuredPart): Matrix4 | null {
  if (!from.shape || !to.shape || from.figures.bodies !== to.figures.bodies) return null;
  const tolerance = toleranceFor(Math.min(from.shape.diagonal, to.shape.diagonal));
  if (Math.abs(from.shape.volume - to.shape.volume) > tolerance * from.shape.area) return null;
  return findMotion(from.shape, to.shape, tolerance)?.matrix ?? null;
}

/** Bodies as one shape. */
function together(shapes: readonly (ShapeFeatures | null)[], box: Box): ShapeFeatures | null {
  const all = shapes.filter((shape) => shape !== null);
  if (all.length === 0 || all.length < shapes.length) return null;
  const sum = (of: (shape: ShapeFeatures) => number) => all.reduce((total, shape) => total + of(shape), 0);
  const volume = sum((shape) => shape.volume);
  const weigh = (shape: ShapeFeatures) => (volume > 0 ? shape.volume / volume : 1 / all.length);
  const centre = [0, 1, 2].map((n) => sum((shape) => weigh(shape) * shape.centre[n]!)) as [
    number,
    number,
    number,
  ];
  return {
    volume,
    area: sum((shape) => shape.area),
    centre,
    moments: all.length === 1 ? all[0]!.moments : [0, 0, 0],
    diagonal: all.length === 1 ? all[0]!.diagonal : diagonalOf(box),
    features: all.flatMap(({ features }) => features),
  };
}

function cornersOf([a, b, c, d, e, f]: readonly number[]): Vector3[] {
  return [a!, d!].flatMap((x) => [b!, e!].flatMap((y) => [c!, f!].map((z): Vector3 => [x, y, z])));
}
