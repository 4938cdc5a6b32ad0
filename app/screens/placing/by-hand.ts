import { invertRigid, type Matrix4, multiply, type Vector3 } from '#core/product/matrix';
import { placementOf, positionOf, turnOf } from '#core/product/turns';
import type { HandMotion } from '../../stage/hand-tool';

/** Where something stands, as it is typed: mm, and degrees. */
export interface Standing {
  position: Vector3;
  turn: Vector3;
}

/** Nobody reads more digits, and rounding errors are gone; mm and degrees. */
const DIGITS = 9;

/** A placement as it is typed. */
export function standingAt(placement: Matrix4): Standing {
  const clean = (vector: Vector3) =>
    vector.map((value) => Number(value.toFixed(DIGITS)) + 0) as unknown as Vector3;
  return { position: clean(positionOf(placement)), turn: clean(turnOf(placement)) };
}

/** Where something stands after a motion of the scene. @param above where its assembly stands */
export function movedBy(motion: Matrix4, above: Matrix4, { position, turn }: Standing): Standing {
  const place = multiply(above, placementOf(position, turn));
  return standingAt(multiply(invertRigid(above), multiply(motion, place)));
}

/** Where something stands after it was moved by hand: what is shifted comes to lie at round numbers, along the axes that it goes. */
export function draggedBy(by: HandMotion, above: Matrix4, before: Standing): Standing {
  if (by.turn) return movedBy(by.motion, above, before);
  const position = before.position.map((value, n) => {
    const shift = by.shift[n]!;
    return shift === 0
      ? value
      : Number((Math.round((value + shift) / by.step) * by.step).toPrecision(12)) + 0;
  }) as unknown as Vector3;
  return { position, turn: before.turn };
}
