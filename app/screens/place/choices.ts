import { AXES, type Axis, placementAfter, stepsAlong, turnsAround } from '#core/jobs/place/placements';
import { type Matrix4, multiply, type Vector3 } from '#core/product/matrix';
import { placementOf, positionOf, turnOf } from '#core/product/turns';
import type { PlaceView } from '#server/views/operations/place-view';
import { copiesOf, motionsOf, placedIn } from '../placing/shown';

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

/** What the stage shows of it: rows that move, and what stands there besides. */
export function shownOf(
  view: Pick<PlaceView, 'rows' | 'placements' | 'occurrences' | 'assemblies' | 'part'> & {
    scene: Pick<PlaceView['scene'], 'instances'>;
  },
  chosen: readonly string[],
  wanted: Wanted,
): { poses: ReadonlyMap<number, Matrix4>; added: PlaceView['scene']['instances'] } {
  const { way, isCircle, count, step, axis, through, angle, position, turn } = wanted;
  if (way === 'set-placement') {
    const relative = chosen.length > 1;
    const after = new Map(
      chosen.flatMap((key) => {
        const before = view.placements[key];
        return before ? [[key, placementAfter(before, { position, turn, relative })] as const] : [];
      }),
    );
    return { poses: motionsOf(view, after), added: [] };
  }
  if (way === 'place-again') {
    const motions =
      isCircle && angle !== 0
        ? turnsAround({ through, axis: AXES[axis], angle }, count)
        : isCircle || isZero(step)
          ? []
          : stepsAlong(step, count);
    const added = chosen.flatMap((key) => {
      const own = view.placements[key];
      return own
        ? copiesOf(
            view,
            view.scene,
            key,
            motions.map((motion) => multiply(motion, own)),
          )
        : [];
    });
    return { poses: new Map(), added };
  }
  const placed = new Set(view.occurrences.map(({ component }) => component));
  const top = view.assemblies.find(({ definition }) => !placed.has(definition));
  const into = wanted.into ?? top?.definition;
  return {
    poses: new Map(),
    added: into === undefined ? [] : placedIn(view, into, placementOf(position, turn)),
  };
}
