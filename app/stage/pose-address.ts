import type { Pose } from './twins';

/** Digits that count of the largest of the numbers; the others are as fine. */
const DIGITS = 7;

/** Where one looks from and what at, as a parameter of an address: six numbers, mm. */
export function writePose({ at, target }: Pose): string {
  const numbers = [...at, ...target];
  const whole = Math.ceil(Math.log10(Math.max(...numbers.map(Math.abs), 1e-9)));
  const digits = Math.min(20, Math.max(0, DIGITS - whole));
  return numbers.map((value) => Number(value.toFixed(digits)) + 0).join(',');
}

/** Null for a text that is none. */
export function readPose(text: string | null): Pose | null {
  const numbers = (text ?? '').split(',').map((part) => (part.trim() === '' ? Number.NaN : Number(part)));
  if (numbers.length !== 6 || !numbers.every((value) => Math.abs(value) < 1e9)) return null;
  const [x, y, z, tx, ty, tz] = numbers as [number, number, number, number, number, number];
  if (Math.hypot(x - tx, y - ty, z - tz) < 1e-6) return null;
  return { at: [x, y, z], target: [tx, ty, tz] };
}
