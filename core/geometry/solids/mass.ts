import type { SymmetricTensor } from '#core/geometry/shape/moments';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { type Matrix4, transformPoint, type Vector3 } from '#core/product/matrix';
import { scale } from '#core/product/vector';

/** A body where it stands, with what it weighs. */
export interface HeavyBody {
  /** Closed. */
  mesh: SolidMesh;
  placement: Matrix4;
  /** From its surfaces, mm³. */
  volume: number;
  /** kg/m³ */
  density: number;
}

/** What a simulator has to know of a rigid body. */
export interface Mass {
  /** kg */
  mass: number;
  /** Centre, mm. */
  centre: Vector3;
  /** About the centre, along the axes of the whole, kg·m². */
  inertia: SymmetricTensor;
}

/** kg/m³ times mm³, in kg; and mm², in m². */
const [TO_KILOGRAMS, TO_SQUARE_METRES] = [1e-9, 1e-6];

/** Integrals of 1, x, y, z, xx, yy, zz, xy, yz, zx over a solid. */
type Integrals = [number, number, number, number, number, number, number, number, number, number];

/**
 * Mass, centre and inertia of several bodies together: the integrals over the tetrahedra from one point to every triangle, brought to the volume
 * that the surfaces have, since triangles of round bodies hold a little less. Null for nothing, or nothing that is closed.
 */
export function massOf(bodies: readonly HeavyBody[]): Mass | null {
  const sums = new Float64Array(10);
  for (const { mesh, placement, volume, density } of bodies) {
    const own = integralsOf(mesh, placement);
    if (!(own[0] > 0)) continue;
    const weight = (density * TO_KILOGRAMS * (volume > 0 ? volume : own[0])) / own[0];
    for (const [n, value] of own.entries()) sums[n]! += weight * value;
  }
  const [mass, x, y, z, xx, yy, zz, xy, yz, zx] = sums as unknown as Integrals;
  if (!(mass > 0)) return null;
  const centre = scale([x, y, z], 1 / mass);
  const [cx, cy, cz] = centre;
  const [ixx, iyy, izz] = [xx - mass * cx * cx, yy - mass * cy * cy, zz - mass * cz * cz];
  const products = [xy - mass * cx * cy, yz - mass * cy * cz, zx - mass * cz * cx];
  const tensor = [iyy + izz, izz + ixx, ixx + iyy, ...products.map((value) => -value)];
  return {
    mass,
    centre,
    inertia: tensor.map((value) => value * TO_SQUARE_METRES) as unknown as SymmetricTensor,
  };
}

/** After F. Tonon, Journal of Mathematics and Statistics 1 (2005): second moments of a tetrahedron with a corner at the origin. */
function integralsOf({ positions, triangles }: SolidMesh, placement: Matrix4): Integrals {
  const sums: Integrals = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0];
  const corner = (index: number) => {
    const at = 3 * triangles[index]!;
    return transformPoint(placement, [positions[at]!, positions[at + 1]!, positions[at + 2]!]);
  };
  for (let n = 0; n < triangles.length; n += 3) {
    const [a, b, c] = [corner(n), corner(n + 1), corner(n + 2)];
    const six =
      a[0] * (b[1] * c[2] - b[2] * c[1]) +
      a[1] * (b[2] * c[0] - b[0] * c[2]) +
      a[2] * (b[0] * c[1] - b[1] * c[0]);
    sums[0] += six / 6;
    const both = (i: 0 | 1 | 2, k: 0 | 1 | 2) => {
      const [s, t] = [a[i] + b[i] + c[i], a[k] + b[k] + c[k]];
      return (six * (a[i] * a[k] + b[i] * b[k] + c[i] * c[k] + s * t)) / 120;
    };
    for (const axis of [0, 1, 2] as const) {
      sums[1 + axis]! += (six * (a[axis] + b[axis] + c[axis])) / 24;
      sums[4 + axis]! += both(axis, axis);
      sums[7 + axis]! += both(axis, ((axis + 1) % 3) as 0 | 1 | 2);
    }
  }
  return sums;
}
