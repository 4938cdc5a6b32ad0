import { IDENTITY, type Matrix4, multiply, transformPoint, type Vector3 } from '#core/product/matrix';
import { across, cross, dot, length, offset, scale, subtract, unit } from '#core/product/vector';
import type { ExactFace } from './exact';

/** A face, and where on it somebody pointed; mm. */
export interface FacePoint {
  face: ExactFace;
  point: Vector3;
}

/**
 * The least motion that lays one face on another: a plane on a plane so that the bodies face each other, an axis in an axis, a middle
 * of a ball in a middle or an axis. It turns about the point on the moving face, and shifts no farther than it has to: along a plane
 * and along an axis nothing moves, so that one laying after another can keep what the first one did.
 * @param isTurnedOver the other way round: both planes look the same way, axes run against each other
 * @returns null for faces that cannot be laid on each other
 */
export function laidOn(moving: FacePoint, fixed: FacePoint, isTurnedOver = false): Matrix4 | null {
  const [a, b] = [moving.face, fixed.face];
  if (a.kind === 'plane' && b.kind === 'plane') {
    const to = isTurnedOver ? b.normal : scale(b.normal, -1);
    const turn = turnBetween(a.normal, to, moving.point);
    return multiply(shiftBy(scale(b.normal, dot(subtract(b.at, moving.point), b.normal))), turn);
  }
  const [from, onto] = [axisOf(a), axisOf(b)];
  if (from && onto) {
    // The nearer of both ways, unless the other one is wanted.
    const nearer = dot(from.axis, onto.axis) < 0 ? scale(onto.axis, -1) : onto.axis;
    const pivot = offset(from.at, from.axis, dot(subtract(moving.point, from.at), from.axis));
    const turn = turnBetween(from.axis, isTurnedOver ? scale(nearer, -1) : nearer, pivot);
    return multiply(shiftBy(ontoLine(pivot, onto)), turn);
  }
  if (a.kind === 'sphere' && b.kind === 'sphere') return shiftBy(subtract(b.at, a.at));
  if (a.kind === 'sphere' && onto) return shiftBy(ontoLine(a.at, onto));
  if (b.kind === 'sphere' && from) return shiftBy(scale(ontoLine(b.at, from), -1));
  return null;
}

interface Line {
  at: Vector3;
  axis: Vector3;
}

function axisOf(face: ExactFace): Line | null {
  return 'axis' in face ? { at: face.at, axis: face.axis } : null;
}

/** The shortest way from a point to a line. */
function ontoLine(point: Vector3, { at, axis }: Line): Vector3 {
  return subtract(offset(at, axis, dot(subtract(point, at), axis)), point);
}

function shiftBy([x, y, z]: Vector3): Matrix4 {
  return [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z, 0, 0, 0, 1];
}

/** Directions that are so near to each other are one: what is parallel already stays so to the last digit. */
const PARALLEL = 1e-9;

/** The least turn about a point that brings one direction into another; half a turn about any axis across where they are opposed. */
export function turnBetween(from: Vector3, to: Vector3, about: Vector3): Matrix4 {
  const around = cross(from, to);
  const sine = length(around);
  const cosine = dot(from, to);
  if (sine < PARALLEL && cosine > 0) return IDENTITY;
  const axis = sine < PARALLEL ? across(from)[0] : unit(around);
  return turnAbout(about, axis, sine < PARALLEL ? Math.PI : Math.atan2(sine, cosine));
}

/** A turn about a line. @param axis of length 1 @param angle radians */
export function turnAbout(at: Vector3, [x, y, z]: Vector3, angle: number): Matrix4 {
  const sine = Math.abs(angle) === Math.PI ? 0 : Math.sin(angle);
  const cosine = Math.cos(angle);
  const rest = 1 - cosine;
  const turn: Matrix4 = [
    cosine + x * x * rest,
    x * y * rest - z * sine,
    x * z * rest + y * sine,
    0,
    y * x * rest + z * sine,
    cosine + y * y * rest,
    y * z * rest - x * sine,
    0,
    z * x * rest - y * sine,
    z * y * rest + x * sine,
    cosine + z * z * rest,
    0,
    0,
    0,
    0,
    1,
  ];
  return multiply(shiftBy(subtract(at, transformPoint(turn, at))), turn);
}
