/** A symmetric tensor of second order: xx, yy, zz, xy, yz, zx. */
export type SymmetricTensor = readonly [number, number, number, number, number, number];

/**
 * The principal values of a symmetric tensor, the least first: the roots of its characteristic polynomial, by the
 * cosines of a third of an angle, which three real roots allow (O. K. Smith, Communications of the ACM 4, 1961). Good to
 * about eight digits of the largest: where two values coincide, the cosine is one, and its angle has half the digits.
 */
export function principalValues([xx, yy, zz, xy, yz, zx]: SymmetricTensor): [number, number, number] {
  const mean = (xx + yy + zz) / 3;
  const [a, b, c] = [xx - mean, yy - mean, zz - mean];
  // Of the tensor less its mean: the spread of its principal values, and the cosine of three times the angle.
  const spread = Math.sqrt((a * a + b * b + c * c + 2 * (xy * xy + yz * yz + zx * zx)) / 6);
  if (spread <= Number.EPSILON * Math.abs(mean)) return [mean, mean, mean];
  const determinant = a * (b * c - yz * yz) - xy * (xy * c - yz * zx) + zx * (xy * yz - b * zx);
  const cosine = Math.min(1, Math.max(-1, determinant / (2 * spread ** 3)));
  const angle = Math.acos(cosine) / 3;
  const most = mean + 2 * spread * Math.cos(angle);
  const least = mean + 2 * spread * Math.cos(angle + (2 * Math.PI) / 3);
  return [least, 3 * mean - most - least, most];
}
