import type { Part21File } from '#core/files/part21/file';
import { numberOf, type Parameter, referenceOf } from '#core/files/part21/parameters';
import type { Matrix4, Vector3 } from '#core/product/matrix';
import { axisPlacement } from '#core/product/placements';
import { distance, distanceFromLine, dot, offset, scale, subtract, unit } from '#core/product/vector';

/** A surface of ISO 10303-42 as far as filling has to know it; lengths in mm. */
export type Surface =
  | { kind: 'plane'; at: Vector3; normal: Vector3 }
  | { kind: 'cylinder' | 'cone' | 'sphere' | 'torus'; placement: Matrix4; radius: number; minor: number }
  | { kind: 'other' };

const ROUND: { [entity: string]: 'cylinder' | 'cone' | 'sphere' | 'torus' } = {
  CYLINDRICAL_SURFACE: 'cylinder',
  CONICAL_SURFACE: 'cone',
  SPHERICAL_SURFACE: 'sphere',
  TOROIDAL_SURFACE: 'torus',
};

export function readSurface(file: Part21File, id: number | undefined, millimetres: number): Surface {
  const type = (id === undefined ? undefined : file.typeOf(id)) ?? '';
  const parameters = file.parameters(id);
  if (type !== 'PLANE' && !ROUND[type]) return { kind: 'other' };
  const placement = axisPlacement(file, referenceOf(parameters?.[1]), millimetres);
  if (!placement) return { kind: 'other' };
  if (type === 'PLANE') return { kind: 'plane', at: originOf(placement), normal: axisOf(placement) };
  return {
    kind: ROUND[type]!,
    placement,
    radius: (numberOf(parameters?.[2]) ?? 0) * millimetres,
    minor: (numberOf(parameters?.[3]) ?? 0) * (type === 'CONICAL_SURFACE' ? 1 : millimetres),
  };
}

export function originOf(placement: Matrix4): Vector3 {
  return [placement[3]!, placement[7]!, placement[11]!];
}

/** The placement's z direction. */
export function axisOf(placement: Matrix4): Vector3 {
  return [placement[2]!, placement[6]!, placement[10]!];
}

/** A point in the coordinates of a placement. */
export function localTo(placement: Matrix4, point: Vector3): Vector3 {
  const off = subtract(point, originOf(placement));
  return [
    dot(off, [placement[0]!, placement[4]!, placement[8]!]),
    dot(off, [placement[1]!, placement[5]!, placement[9]!]),
    dot(off, axisOf(placement)),
  ];
}

/**
 * How far a point lies off a surface on the side of its own normal (ISO 10303-42: outwards for round ones), mm; undefined for a surface
 * that no formula is for.
 */
export function offSurface(surface: Surface, point: Vector3): number | undefined {
  if (surface.kind === 'plane') return dot(subtract(point, surface.at), surface.normal);
  if (surface.kind === 'other') return undefined;
  const [x, y, z] = localTo(surface.placement, point);
  const out = Math.hypot(x, y);
  if (surface.kind === 'cylinder') return out - surface.radius;
  if (surface.kind === 'sphere') return Math.hypot(out, z) - surface.radius;
  if (surface.kind === 'torus') return Math.hypot(out - surface.radius, z) - surface.minor;
  // A cone: `minor` is half of its opening, in the file's unit of angle, mostly radians.
  return (out - surface.radius - z * Math.tan(surface.minor)) * Math.cos(surface.minor);
}

/** The surface's own normal (ISO 10303-42: outwards for round ones) next to a point; undefined for a surface that no formula is for. */
export function normalOfSurface(surface: Surface, point: Vector3): Vector3 | undefined {
  if (surface.kind === 'plane') return surface.normal;
  if (surface.kind === 'other') return undefined;
  const { placement, kind, radius, minor } = surface;
  const [origin, axis] = [originOf(placement), axisOf(placement)];
  const off = subtract(point, origin);
  if (kind === 'sphere') return unit(off);
  const out = unit(offset(off, axis, -dot(off, axis)));
  if (kind === 'cylinder') return out;
  if (kind === 'torus') return unit(subtract(off, scale(out, radius)));
  return unit(offset(scale(out, Math.cos(minor)), axis, -Math.sin(minor)));
}

export function triple(parameter: Parameter | undefined, factor: number): Vector3 | undefined {
  if (!Array.isArray(parameter)) return undefined;
  const [x = 0, y = 0, z = 0] = parameter.map((value) => numberOf(value) ?? 0);
  return [x * factor, y * factor, z * factor];
}

/** How far surfaces may differ that are one, of their size. */
const SAME = 1e-6;

/** Whether two surfaces are the same one, however they are written. */
export function isSameSurface(a: Surface, b: Surface): boolean {
  if (a.kind === 'plane')
    return b.kind === 'plane' && dot(a.normal, b.normal) > 1 - SAME && Math.abs(offSurface(a, b.at)!) < SAME;
  if (a.kind === 'other' || b.kind === 'other' || b.kind === 'plane' || a.kind !== b.kind) return false;
  const tolerance = SAME * (1 + a.radius);
  const [from, to] = [originOf(a.placement), originOf(b.placement)];
  const axis = axisOf(a.placement);
  const isConcentric = distance(from, to) < tolerance;
  const areAlike = Math.abs(a.radius - b.radius) < tolerance && Math.abs(a.minor - b.minor) < tolerance;
  if (a.kind === 'sphere') return isConcentric && areAlike;
  if (!areParallel(axis, axisOf(b.placement))) return false;
  if (a.kind === 'cylinder') return areAlike && distanceFromLine(to, from, axis) < tolerance;
  return areAlike && isConcentric && (a.kind === 'torus' || dot(axis, axisOf(b.placement)) > 0);
}

/** Whether two directions lie along each other, either way round. */
export function areParallel(a: Vector3, b: Vector3, tolerance = 1e-5): boolean {
  return Math.abs(Math.abs(dot(a, b)) - 1) < tolerance * tolerance + 1e-9;
}
