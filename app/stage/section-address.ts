import type { SectionPlane } from './types';

export type Axis = 'x' | 'y' | 'z';
export const AXES: readonly Axis[] = ['x', 'y', 'z'];

/** A section as a parameter of an address: `-y:12.5` across an axis, `0.6,0.8,0:40` along a face; mm. */
export function writeSection({ normal, at }: SectionPlane): string {
  const axis = axisOf(normal);
  const side = isTurned(normal) ? '-' : '';
  const along = axis ? side + axis : normal.map((value) => Number(value.toFixed(6))).join(',');
  return `${along}:${Number(at.toFixed(3))}`;
}

/** Null for a text that is none. */
export function readSection(text: string | null): SectionPlane | null {
  const [along, place, more] = (text ?? '').split(':');
  const at = Number(place);
  if (!along || !place || more !== undefined || !Number.isFinite(at)) return null;
  const [, minus, axis] = /^(-?)([xyz])$/.exec(along) ?? [];
  if (axis) return { normal: normalOf(axis as Axis, minus === '-'), at };
  const [x, y, z, ...others] = along.split(',').map(Number);
  if (x === undefined || y === undefined || z === undefined || others.length > 0) return null;
  const length = Math.hypot(x, y, z);
  return length > 0.5 && length < 2 ? { normal: [x / length, y / length, z / length], at } : null;
}

function normalOf(axis: Axis, isNegative: boolean): SectionPlane['normal'] {
  const side = isNegative ? -1 : 1;
  const [x = 0, y = 0, z = 0] = AXES.map((other) => (other === axis ? side : 0));
  return [x, y, z];
}

/** The axis that a section lies across; null along a face. */
export function axisOf(normal: SectionPlane['normal']): Axis | null {
  return AXES.find((_, n) => normal.every((value, other) => other === n || Math.abs(value) < 1e-7)) ?? null;
}

/** Where a section lies along its axis, whichever side is taken away; along a face, from the origin. */
export function placeOf({ normal, at }: SectionPlane): number {
  return isTurned(normal) ? -at || 0 : at;
}

/** Whether it takes away the side of smaller values along its axis. */
export function isTurned(normal: SectionPlane['normal']): boolean {
  const axis = axisOf(normal);
  return axis !== null && normal[AXES.indexOf(axis)]! < 0;
}

/** The same place from the other side. */
export function turned({ normal: [x, y, z], at }: SectionPlane): SectionPlane {
  return { normal: [-x || 0, -y || 0, -z || 0], at: -at || 0 };
}
