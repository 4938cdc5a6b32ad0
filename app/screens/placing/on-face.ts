import { type FacePoint, laidOn, turnBetween } from '#core/geometry/shape/lay';
import { invertRigid, type Matrix4, transformPoint, turnDirection, type Vector3 } from '#core/product/matrix';
import { placementOf } from '#core/product/turns';
import { movedBy, type Standing, standingAt } from './by-hand';

/** A face of what stands somewhere, and the one that it is laid on; both as in the scene. */
export interface Laying {
  moving: FacePoint;
  fixed: FacePoint;
  isTurnedOver: boolean;
  before: Standing;
}

/** Where something stands when a face of it was laid on another; null for faces that cannot be. */
export function standingLaid(
  { moving, fixed, isTurnedOver, before }: Laying,
  above: Matrix4,
): Standing | null {
  const motion = laidOn(moving, fixed, isTurnedOver);
  return motion && movedBy(motion, above, before);
}

/** Where something stands with its origin on a face, and its z axis out of it; both as in the scene. */
export function standingOn(point: Vector3, normal: Vector3, above: Matrix4): Standing {
  const back = invertRigid(above);
  // As little turned in its assembly as may be.
  const turned = turnBetween([0, 0, 1], turnDirection(back, normal), [0, 0, 0]);
  const { position } = standingAt(placementOf(transformPoint(back, point), [0, 0, 0]));
  return { position, turn: standingAt(turned).turn };
}
