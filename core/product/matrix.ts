/** A rigid placement (or, for scaled mapped items, an affine one): 4x4, row-major, lengths in millimetres. */
export type Matrix4 = readonly number[];

export const IDENTITY: Matrix4 = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

export type Vector3 = readonly [number, number, number];

export function multiply(a: Matrix4, b: Matrix4): Matrix4 {
  const out = new Array<number>(16);
  for (let row = 0; row < 4; row++) {
    for (let column = 0; column < 4; column++) {
      let sum = 0;
      for (let k = 0; k < 4; k++) sum += a[row * 4 + k]! * b[k * 4 + column]!;
      out[row * 4 + column] = sum;
    }
  }
  return out;
}

/** Inverse of a rigid placement: transposed rotation, and the translation turned back. */
export function invertRigid(m: Matrix4): Matrix4 {
  const [a, b, c, x, d, e, f, y, g, h, i, z] = m as number[] as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  return [
    a,
    d,
    g,
    -(a * x + d * y + g * z),
    b,
    e,
    h,
    -(b * x + e * y + h * z),
    c,
    f,
    i,
    -(c * x + f * y + i * z),
    0,
    0,
    0,
    1,
  ];
}

export function transformPoint(m: Matrix4, [x, y, z]: Vector3): Vector3 {
  return [
    m[0]! * x + m[1]! * y + m[2]! * z + m[3]!,
    m[4]! * x + m[5]! * y + m[6]! * z + m[7]!,
    m[8]! * x + m[9]! * y + m[10]! * z + m[11]!,
  ];
}

/** A direction as a placement turns it: without the shift. */
export function turnDirection(m: Matrix4, [x, y, z]: Vector3): Vector3 {
  return [
    m[0]! * x + m[1]! * y + m[2]! * z,
    m[4]! * x + m[5]! * y + m[6]! * z,
    m[8]! * x + m[9]! * y + m[10]! * z,
  ];
}

export function isIdentity(m: Matrix4, tolerance = 1e-12): boolean {
  return m.every((value, n) => Math.abs(value - IDENTITY[n]!) <= tolerance);
}

/**
 * Placement with its origin at `origin`, z along `axis`, and x as near to `reference` as a right angle to z
 * allows (ISO 10303-42, build_axes). Missing or parallel directions fall back as the standard says.
 */
export function placementFromAxes(origin: Vector3, axis?: Vector3, reference?: Vector3): Matrix4 {
  const z = normalise(axis ?? [0, 0, 1]) ?? [0, 0, 1];
  let guess = reference ?? [1, 0, 0];
  let x = orthogonalTo(guess, z);
  if (!x) {
    guess = Math.abs(z[0]) > 0.9 ? [0, 1, 0] : [1, 0, 0];
    x = orthogonalTo(guess, z)!;
  }
  const y: Vector3 = [z[1] * x[2] - z[2] * x[1], z[2] * x[0] - z[0] * x[2], z[0] * x[1] - z[1] * x[0]];
  return [x[0], y[0], z[0], origin[0], x[1], y[1], z[1], origin[1], x[2], y[2], z[2], origin[2], 0, 0, 0, 1];
}

function orthogonalTo(vector: Vector3, unit: Vector3): Vector3 | undefined {
  const along = vector[0] * unit[0] + vector[1] * unit[1] + vector[2] * unit[2];
  return normalise([vector[0] - along * unit[0], vector[1] - along * unit[1], vector[2] - along * unit[2]]);
}

function normalise([x, y, z]: Vector3): Vector3 | undefined {
  const length = Math.hypot(x, y, z);
  return length > 1e-9 ? [x / length, y / length, z / length] : undefined;
}
