import type { Pose } from './twins';

/** Where one looks from and what at, as a parameter of an address: six numbers, mm. */
export function writePose({ at, target }: Pose): string {
  return [...at, ...target].map((value) => Number(value.toPrecision(7))).join(',');
}

/** Null for a text that is none. */
export function readPose(text: string | null): Pose | null {
  const numbers = (text ?? '').split(',').map((part) => (part.trim() === '' ? Number.NaN : Number(part)));
  if (numbers.length !== 6 || !numbers.every((value) => Math.abs(value) < 1e9)) return null;
  const [x, y, z, tx, ty, tz] = numbers as [number, number, number, number, number, number];
  if (Math.hypot(x - tx, y - ty, z - tz) < 1e-6) return null;
  return { at: [x, y, z], target: [tx, ty, tz] };
}
