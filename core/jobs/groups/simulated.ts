import type { Mass } from '#core/geometry/solids/mass';

/** A group as simulators get it. */
export interface SimulatedLink {
  name: string;
  /** File of its mesh, GLB: metres, y up. */
  mesh: string;
  /** File of the convex hull of that, which collisions are computed with. */
  hull: string;
  /** Null where nothing of it is closed. */
  mass: Mass | null;
}

/** A length or a direction, to nine digits behind the point. */
export function tidy(value: number): string {
  return String(Number(value.toFixed(9)) || 0);
}

/** A figure of any size, to nine digits. */
export function exact(value: number): string {
  return String(Number(value.toPrecision(9)));
}

/** Millimetres in metres. */
export function metres(point: readonly number[]): string {
  return point.map((value) => tidy(value / 1000)).join(' ');
}
