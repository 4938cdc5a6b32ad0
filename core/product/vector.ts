import type { Vector3 } from './matrix';

export function add(a: Vector3, b: Vector3): Vector3 {
  return [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
}

export function subtract(a: Vector3, b: Vector3): Vector3 {
  return [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
}

export function scale(a: Vector3, factor: number): Vector3 {
  return [a[0] * factor, a[1] * factor, a[2] * factor];
}

/** A point so far along a direction from another one. */
export function offset(from: Vector3, direction: Vector3, by: number): Vector3 {
  return [from[0] + by * direction[0], from[1] + by * direction[1], from[2] + by * direction[2]];
}

export function dot(a: Vector3, b: Vector3): number {
  return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
}

export function cross(a: Vector3, b: Vector3): Vector3 {
  return [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
}

export function length(a: Vector3): number {
  return Math.hypot(a[0], a[1], a[2]);
}

/** Of length 1; the null vector stays. */
export function unit(a: Vector3): Vector3 {
  const size = length(a);
  return size > 0 ? [a[0] / size, a[1] / size, a[2] / size] : a;
}

export function distance(a: Vector3, b: Vector3): number {
  return length(subtract(a, b));
}

/** How far a point lies from a line through another one, along a direction of length 1. */
export function distanceFromLine(point: Vector3, at: Vector3, direction: Vector3): number {
  const off = subtract(point, at);
  return length(offset(off, direction, -dot(off, direction)));
}

/** Two directions at right angles to one and to each other. */
export function across(direction: Vector3): [Vector3, Vector3] {
  const guess: Vector3 = Math.abs(direction[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0];
  const first = unit(cross(guess, direction));
  return [first, cross(direction, first)];
}
