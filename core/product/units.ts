import type { Part21File } from '#core/files/part21/file';
import { Enumeration, numberOf, referenceOf, referencesOf } from '#core/files/part21/parameters';

const PREFIXES: { [name: string]: number } = {
  EXA: 1e18,
  PETA: 1e15,
  TERA: 1e12,
  GIGA: 1e9,
  MEGA: 1e6,
  KILO: 1e3,
  HECTO: 1e2,
  DECA: 1e1,
  DECI: 1e-1,
  CENTI: 1e-2,
  MILLI: 1e-3,
  MICRO: 1e-6,
  NANO: 1e-9,
  PICO: 1e-12,
  FEMTO: 1e-15,
  ATTO: 1e-18,
};

/** The length unit of a representation: its short name and how many millimetres it is. */
export interface LengthUnit {
  name: string;
  millimetres: number;
}

const NAMES: readonly LengthUnit[] = [
  { name: 'mm', millimetres: 1 },
  { name: 'cm', millimetres: 10 },
  { name: 'm', millimetres: 1000 },
  { name: 'µm', millimetres: 0.001 },
  { name: 'in', millimetres: 25.4 },
  { name: 'ft', millimetres: 304.8 },
];

/** What the standard assumes nowhere, but every reader does when a file gives no unit. */
export const MILLIMETRE: LengthUnit = { name: 'mm', millimetres: 1 };

/**
 * Length unit of a representation context (ISO 10303-41, global_unit_assigned_context).
 * @returns undefined when the context assigns none that can be understood
 */
export function lengthUnitOfContext(file: Part21File, context: number): LengthUnit | undefined {
  const units = file.entity(context, 'GLOBAL_UNIT_ASSIGNED_CONTEXT')?.[0];
  for (const unit of referencesOf(units)) {
    const millimetres = millimetresOf(file, unit, 0);
    if (millimetres !== undefined) return named(millimetres);
  }
  return undefined;
}

/** Whether a representation context measures plane angles in radian, as it does when it does not say. */
export function isRadian(file: Part21File, context: number): boolean {
  const units = referencesOf(file.entity(context, 'GLOBAL_UNIT_ASSIGNED_CONTEXT')?.[0]);
  const angle = units.find((unit) => file.entity(unit, 'PLANE_ANGLE_UNIT'));
  return angle === undefined || file.entity(angle, 'SI_UNIT') !== undefined;
}

/** How many millimetres a unit of length is; undefined for any other unit. */
export function millimetresOf(file: Part21File, unit: number, depth = 0): number | undefined {
  const records = file.instance(unit)?.records;
  if (!records || depth > 4 || !records.some(({ keyword }) => keyword === 'LENGTH_UNIT')) return undefined;
  const si = records.find(({ keyword }) => keyword === 'SI_UNIT')?.parameters;
  if (si) {
    const prefix = si.at(-2);
    return 1000 * (prefix instanceof Enumeration ? (PREFIXES[prefix.name] ?? 1) : 1);
  }
  const conversion = records.find(({ keyword }) => keyword === 'CONVERSION_BASED_UNIT')?.parameters;
  const measure = referenceOf(conversion?.[1]);
  if (measure === undefined) return undefined;
  const [value, base] = measureWithUnit(file, measure);
  const scale = base === undefined ? undefined : millimetresOf(file, base, depth + 1);
  return value !== undefined && scale !== undefined && value > 0 ? value * scale : undefined;
}

function measureWithUnit(file: Part21File, id: number): [number | undefined, number | undefined] {
  const records = file.instance(id)?.records ?? [];
  const parameters = records.find(
    ({ keyword }) => keyword === 'LENGTH_MEASURE_WITH_UNIT' || keyword === 'MEASURE_WITH_UNIT',
  )?.parameters;
  return [numberOf(parameters?.[0]), referenceOf(parameters?.[1])];
}

function named(millimetres: number): LengthUnit {
  const known = NAMES.find((unit) => Math.abs(unit.millimetres - millimetres) < 1e-9 * unit.millimetres);
  return known ?? { name: `${millimetres} mm`, millimetres };
}
