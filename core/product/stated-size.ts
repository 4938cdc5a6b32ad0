import type { Part21File } from '#core/files/part21/file';
import { numberOf, type Parameter, referenceOf, referencesOf, Typed } from '#core/files/part21/parameters';
import { lengthUnitOfContext, MILLIMETRE, millimetresOf } from './units';

/** What a file says of the size of a part, for whoever wants to check what arrived (ISO 10303-41, geometric validation properties). */
export interface StatedSize {
  /** Cubic millimetres. */
  volume?: number;
  /** Square millimetres. */
  area?: number;
}

const MEASURES: { [keyword: string]: { of: keyof StatedSize; power: number } } = {
  VOLUME_MEASURE: { of: 'volume', power: 3 },
  AREA_MEASURE: { of: 'area', power: 2 },
};

/** Adds what an item of a representation says of the size of a part. The first of each counts. */
export function addToSize(
  facts: { size?: StatedSize },
  file: Part21File,
  item: number,
  context: number | undefined,
): void {
  const measure = measureOf(file, item, context);
  if (!measure) return;
  const size = facts.size ?? {};
  size[measure.of] ??= measure.value;
  facts.size = size;
}

function measureOf(
  file: Part21File,
  item: number,
  context: number | undefined,
): { of: keyof StatedSize; value: number } | undefined {
  const [measure, unit] = measureAndUnit(file, item);
  if (!(measure instanceof Typed)) return undefined;
  const known = MEASURES[measure.keyword];
  const value = numberOf(measure.value);
  if (!known || value === undefined || !(value > 0) || !Number.isFinite(value)) return undefined;
  const fromContext = () =>
    ((context === undefined ? undefined : lengthUnitOfContext(file, context)) ?? MILLIMETRE).millimetres **
    known.power;
  return { of: known.of, value: value * (scaleOf(file, unit, known.power) ?? fromContext()) };
}

/** The measure of an item with its unit. Such an item stands alone, or as one of several records of an instance. */
export function measureAndUnit(file: Part21File, item: number): [Parameter | undefined, number | undefined] {
  const alone = file.typeOf(item) === 'MEASURE_REPRESENTATION_ITEM' ? file.parameters(item) : undefined;
  const [value, unit] = alone?.slice(1) ?? file.entity(item, 'MEASURE_WITH_UNIT') ?? [];
  return [value, referenceOf(unit)];
}

/** How many cubic or square millimetres a derived unit is; undefined where it is none of lengths. */
function scaleOf(file: Part21File, unit: number | undefined, power: number): number | undefined {
  const elements = referencesOf(file.entity(unit, 'DERIVED_UNIT')?.[0]);
  let scale = 1;
  let powers = 0;
  for (const element of elements) {
    const [base, exponent] = file.entity(element, 'DERIVED_UNIT_ELEMENT') ?? [];
    const length = millimetresOf(file, referenceOf(base) ?? -1);
    const times = numberOf(exponent);
    if (length === undefined || times === undefined) return undefined;
    scale *= length ** times;
    powers += times;
  }
  return powers === power ? scale : undefined;
}
