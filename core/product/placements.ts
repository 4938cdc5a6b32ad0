import type { Part21File } from '#core/files/part21/file';
import { numberOf, type Parameter, referenceOf } from '#core/files/part21/parameters';
import { IDENTITY, invertRigid, type Matrix4, multiply, placementFromAxes, type Vector3 } from './matrix';

/**
 * The placement that an AXIS2_PLACEMENT_3D describes (ISO 10303-42, 4.4.13), in millimetres.
 * @param millimetres size of the representation's length unit
 */
export function axisPlacement(
  file: Part21File,
  id: number | undefined,
  millimetres: number,
): Matrix4 | undefined {
  const parameters = file.entity(id, 'AXIS2_PLACEMENT_3D');
  if (!parameters) return undefined;
  const origin = triple(file.entity(referenceOf(parameters[1]), 'CARTESIAN_POINT')?.[1]) ?? [0, 0, 0];
  const axis = triple(file.entity(referenceOf(parameters[2]), 'DIRECTION')?.[1]);
  const reference = triple(file.entity(referenceOf(parameters[3]), 'DIRECTION')?.[1]);
  return placementFromAxes(scaled(origin, millimetres), axis, reference);
}

/** The target of a MAPPED_ITEM: a placement, or a transformation operator that may also scale (ISO 10303-42, 4.4.17). */
export function mappingTarget(
  file: Part21File,
  id: number | undefined,
  millimetres: number,
): Matrix4 | undefined {
  const placement = axisPlacement(file, id, millimetres);
  if (placement) return placement;
  const parameters = file.entity(id, 'CARTESIAN_TRANSFORMATION_OPERATOR_3D');
  if (!parameters) return undefined;
  const direction = (at: number) => triple(file.entity(referenceOf(parameters.at(at)), 'DIRECTION')?.[1]);
  const origin = triple(file.entity(referenceOf(parameters.at(-3)), 'CARTESIAN_POINT')?.[1]) ?? [0, 0, 0];
  const scale = numberOf(parameters.at(-2)) ?? 1;
  const rigid = placementFromAxes(scaled(origin, millimetres), direction(-1), direction(-5));
  return rigid.map((value, n) => (n % 4 < 3 && n < 12 ? value * scale : value));
}

/**
 * Placement of a mapped representation: what takes the map's origin onto the item's target
 * (ISO 10303-43, mapped_item).
 */
export function mappedPlacement(
  file: Part21File,
  origin: number | undefined,
  target: number | undefined,
  sourceMillimetres: number,
  targetMillimetres: number,
): Matrix4 {
  const from = axisPlacement(file, origin, sourceMillimetres) ?? IDENTITY;
  const to = mappingTarget(file, target, targetMillimetres) ?? IDENTITY;
  return multiply(to, invertRigid(from));
}

function triple(parameter: Parameter | undefined): Vector3 | undefined {
  if (!Array.isArray(parameter)) return undefined;
  const [x, y, z] = parameter.map(numberOf);
  return x === undefined || y === undefined ? undefined : [x, y, z ?? 0];
}

function scaled([x, y, z]: Vector3, factor: number): Vector3 {
  return [x * factor, y * factor, z * factor];
}
