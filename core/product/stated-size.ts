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

/**
 * Volume and area as they are stated for product definitions, by the definition's number. Stand-ins have them, too: some systems
 * write the component's own there. The first of each counts. Cost grows with the properties of the file.
 */
export function statedSizes(file: Part21File): Map<number, StatedSize> {
  const sizes = new Map<number, StatedSize>();
  for (const id of file.idsOfType('PROPERTY_DEFINITION_REPRESENTATION')) {
    const parameters = file.entity(id, 'PROPERTY_DEFINITION_REPRESENTATION')!;
    const of = referenceOf(file.entity(referenceOf(parameters[0]), 'PROPERTY_DEFINITION')?.[2]);
    const representation = file.parameters(referenceOf(parameters[1]));
    if (of === undefined || !representation) continue;
    const shape = file.entity(of, 'PRODUCT_DEFINITION_SHAPE');
    const definition = shape ? referenceOf(shape[2]) : of;
    if (definition === undefined) continue;
    for (const item of referencesOf(representation[1])) {
      const measure = measureOf(file, item, referenceOf(representation[2]));
      if (!measure) continue;
      const size = sizes.get(definition) ?? {};
      size[measure.of] ??= measure.value;
      sizes.set(definition, size);
    }
  }
  return sizes;
}

function measureOf(
  file: Part21File,
  item: number,
  context: number | undefined,
): { of: keyof StatedSize; value: number } | undefined {
  const [measure, unit] = valueAndUnit(file, item);
  if (!(measure instanceof Typed)) return undefined;
  const known = MEASURES[measure.keyword];
  const value = numberOf(measure.value);
  if (!known || value === undefined || !(value > 0) || !Number.isFinite(value)) return undefined;
  const fromContext = () =>
    ((context === undefined ? undefined : lengthUnitOfContext(file, context)) ?? MILLIMETRE).millimetres **
    known.power;
  return { of: known.of, value: value * (scaleOf(file, unit, known.power) ?? fromContext()) };
}

/** A measure item stands alone, or as one of several records of an instance. */
function valueAndUnit(file: Part21File, item: number): [Parameter | undefined, number | undefined] {
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
