import type { Vector3 } from '#core/product/matrix';

/** A cylinder that joins solids which do not touch. mm. */
export interface Pin {
  /** Middle of its first end. */
  at: Vector3;
  direction: Vector3;
  length: number;
  radius: number;
}
