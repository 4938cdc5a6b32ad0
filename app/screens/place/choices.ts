import { AXES, type Axis, placementAfter, stepsAlong, turnsAround } from '#core/jobs/place/placements';
import { IDENTITY, type Matrix4, multiply, type Vector3 } from '#core/product/matrix';
import { placementOf, positionOf, turnOf } from '#core/product/turns';
import type { PlaceView } from '#server/views/operations/place-view';
import {
  copiesOf,
  firstRowsOf,
  motionsOf,
  placesOf,
  posesOfPlaced,
  standing as standingPlaces,
} from '../placing/shown';
import type { HeldInAssembly } from '../placing/useByHand';

/** What can be done, each an operation. */
export const WAYS = ['place', 'place-again', 'set-placement'] as const;
export type Way = (typeof WAYS)[number];

/** What somebody wants, as the fields have it. */
export interface Wanted {
  way: Way;
  part: string | null;
  /** PRODUCT_DEFINITION of the assembly that gets it. */
  into: number | null;
  position: Vector3;
  turn: Vector3;
  /** In place-again. */
  isCircle: boolean;
  count: number;
  step: Vector3;
  axis: Axis;
  through: Vector3;
  angle: number;
}

export const NOTHING_WANTED: Wanted = {
  way: 'place',
  part: null,
  into: null,
  position: [0, 0, 0],
  turn: [0, 0, 0],
  isCircle: false,
  count: 2,
  step: [0, 0, 0],
  axis: 'z',
  through: [0, 0, 0],
  angle: 360,
};

/** What the operation is told; null while something is still to be chosen, or stands where it is typed. */
export function choicesOf(
  { file, placements }: Pick<PlaceView, 'file' | 'placements'>,
  chosen: readonly string[],
  wanted: Wanted,
): object | null {
  if (file === null) return null;
  const { way, part, into, position, turn, isCircle, count, step, through, angle } = wanted;
  if (way === 'place')
    return part === null
      ? null
      : { file, part, ...(into !== null && { into: String(into) }), position, turn };
  if (chosen.length === 0) return null;
  const plain = { file, occurrences: chosen };
  if (way === 'place-again') {
    if (isCircle) return { ...plain, count, around: { axis: AXES[wanted.axis], through, angle } };
    return isZero(step) ? null : { ...plain, count, step };
  }
  const relative = chosen.length > 1;
  if (relative && isZero(position) && isZero(turn)) return null;
  const before = relative ? undefined : placements[chosen[0]!];
  if (before && isSame(position, positionOf(before)) && isSame(turn, turnOf(before))) return null;
  return { ...plain, position, turn, relative };
}

function isSame(one: Vector3, other: Vector3): boolean {
  return one.every((value, n) => value === other[n]);
}

function isZero(vector: Vector3): boolean {
  return vector.every((value) => value === 0);
}

/** What is shown of the page: the assembly, with what is placed in it. */
export type Shown = Pick<PlaceView, 'rows' | 'placements' | 'occurrences' | 'assemblies' | 'part'>;

/** PRODUCT_DEFINITION of the assembly that gets what is placed; undefined where the file has none. */
export function intoOf(
  { occurrences, assemblies }: Shown,
  { into }: Pick<Wanted, 'into'>,
): number | undefined {
  if (into !== null) return into;
  const placed = new Set(occurrences.map(({ component }) => component));
  return assemblies.find(({ definition }) => !placed.has(definition))?.definition;
}

/** How rows of the stage move. */
export function posesOf(
  view: Shown,
  chosen: readonly string[],
  wanted: Wanted,
): ReadonlyMap<number, Matrix4> {
  const { way, position, turn } = wanted;
  const into = intoOf(view, wanted);
  if (way === 'place')
    return into === undefined ? new Map() : posesOfPlaced(view, into, placementOf(position, turn));
  if (way === 'place-again') return new Map();
  const relative = chosen.length > 1;
  const after = chosen.flatMap((key) => {
    const before = view.placements[key];
    return before ? [[key, placementAfter(before, { position, turn, relative })] as const] : [];
  });
  return motionsOf(view, new Map(after));
}

/** What stands there besides, in a row or a circle. */
export function copiesAt(
  view: Shown & { scene: Pick<PlaceView['scene'], 'instances'> },
  chosen: readonly string[],
  { isCircle, count, step, axis, through, angle }: Wanted,
): PlaceView['scene']['instances'] {
  const motions =
    isCircle && angle !== 0
      ? turnsAround({ through, axis: AXES[axis], angle }, count)
      : isCircle || isZero(step)
        ? []
        : stepsAlong(step, count);
  const places = standingPlaces(view);
  return chosen.flatMap((key) => {
    const own = view.placements[key];
    if (!own) return [];
    const further = motions.map((motion) => multiply(motion, own));
    return copiesOf(view, view.scene, key, further, places);
  });
}

/** What can be moved by hand, as it stands: the file that is placed, in the first of its places, or what is chosen. */
export function heldOf(view: Shown, chosen: readonly string[], wanted: Wanted): HeldInAssembly | null {
  const { way, position, turn } = wanted;
  const standing = { position, turn };
  const poses = posesOf(view, chosen, wanted);
  if (way === 'place') {
    const into = intoOf(view, wanted);
    const row = view.part?.instances[0]?.row;
    const above = into === undefined ? undefined : placesOf(view, into)[0];
    if (row === undefined || above === undefined) return null;
    const name = view.part!.name;
    return { rows: new Set([row]), moved: poses.get(row)!, axes: above, above, standing, isNew: true, name };
  }
  if (way !== 'set-placement' || chosen.length === 0) return null;
  const rows = firstRowsOf(view, new Set(chosen));
  const [first] = rows;
  const above = first === undefined ? undefined : standingPlaces(view)[view.rows[first]!.parent];
  if (first === undefined || !above) return null;
  const name = view.occurrences.find(({ key }) => key === chosen[0])!.name;
  const moved = poses.get(first) ?? IDENTITY;
  return { rows, moved, axes: above, above, standing, isNew: false, name };
}
