import type { Part21File } from '#core/files/part21/file';
import {
  Enumeration,
  numberOf,
  type Parameter,
  referenceOf,
  referencesOf,
  Typed,
  textOf,
} from '#core/files/part21/parameters';
import { addToSize, measureAndUnit, type StatedSize } from './stated-size';

/** A property that a file gives a part, in words or as a measure. */
export interface StatedProperty {
  name: string;
  value: string | number;
  /** Of a measure, as people write it; left out where the file does not say. */
  unit?: string;
}

/** What a file says of a part besides its shape: ISO 10303-41, property_definition with its representations. */
export interface StatedFacts {
  size?: StatedSize;
  /** kg/m³ */
  density?: number;
  /** Name of its material, where it is a property. */
  material?: string;
  properties?: StatedProperty[];
}

/** So many properties of one part are kept, and so many characters of each. */
const [MOST_PROPERTIES, MOST_CHARACTERS] = [60, 500];

/** Properties that have a meaning of their own, and are no words for people. */
const OWN_MEANING = /validation|^derived file$|^pmi|^attribute validation/i;
const MATERIAL = /^material property$/i;

/**
 * What is stated for product definitions, by the definition's number. Stand-ins have properties, too: some systems write the component's own
 * size there. The first of each counts. Cost grows with the properties of the file.
 */
export function statedFacts(file: Part21File): Map<number, StatedFacts> {
  const facts = new Map<number, StatedFacts>();
  for (const id of file.idsOfType('PROPERTY_DEFINITION_REPRESENTATION')) {
    const parameters = file.entity(id, 'PROPERTY_DEFINITION_REPRESENTATION')!;
    const property = file.entity(referenceOf(parameters[0]), 'PROPERTY_DEFINITION');
    const of = referenceOf(property?.[2]);
    const representation = file.parameters(referenceOf(parameters[1]));
    if (of === undefined || !representation) continue;
    const shape = file.entity(of, 'PRODUCT_DEFINITION_SHAPE');
    const definition = shape ? referenceOf(shape[2]) : of;
    if (definition === undefined) continue;
    const known = facts.get(definition) ?? {};
    const name = textOf(property![0]) ?? '';
    const isShown = !shape && !OWN_MEANING.test(name);
    const representationName = textOf(representation[0]) ?? '';
    for (const item of referencesOf(representation[1])) {
      addToSize(known, file, item, referenceOf(representation[2]));
      if (!isShown) continue;
      if (MATERIAL.test(name)) addMaterial(known, file, item, representationName);
      else addProperty(known, file, item, name || representationName);
    }
    if (Object.keys(known).length > 0) facts.set(definition, known);
  }
  return facts;
}

/** Material of a part as a property: its name in words, its density as a measure. */
function addMaterial(facts: StatedFacts, file: Part21File, item: number, of: string): void {
  const words = file.entity(item, 'DESCRIPTIVE_REPRESENTATION_ITEM');
  if (words) facts.material ??= textOf(words[1]) || textOf(words[0]) || undefined;
  if (!/density/i.test(of)) return;
  const [measure, unit] = measureAndUnit(file, item);
  const value = numberIn(measure);
  const scale = densityScale(file, unit);
  if (value !== undefined && value > 0 && scale !== undefined) facts.density ??= value * scale;
}

function addProperty(facts: StatedFacts, file: Part21File, item: number, of: string): void {
  const stated = describedItem(file, item) ?? measuredItem(file, item);
  if (!stated) return;
  const name = (stated.name || of).slice(0, MOST_CHARACTERS);
  const properties = facts.properties ?? [];
  if (name === '' || properties.length >= MOST_PROPERTIES) return;
  if (properties.some((property) => property.name === name)) return;
  properties.push({ ...stated, name });
  facts.properties = properties;
}

function describedItem(file: Part21File, item: number): StatedProperty | undefined {
  const [name, words] = (file.entity(item, 'DESCRIPTIVE_REPRESENTATION_ITEM') ?? []).map(textOf);
  return words ? { name: name ?? '', value: words.slice(0, MOST_CHARACTERS) } : undefined;
}

function measuredItem(file: Part21File, item: number): StatedProperty | undefined {
  const [measure, unit] = measureAndUnit(file, item);
  const value = measure instanceof Typed ? (numberIn(measure) ?? textOf(measure.value)) : undefined;
  if (value === undefined) return undefined;
  const alone = file.typeOf(item) === 'MEASURE_REPRESENTATION_ITEM' ? file.parameters(item) : undefined;
  const name = textOf(alone?.[0] ?? file.entity(item, 'REPRESENTATION_ITEM')?.[0]) ?? '';
  const words = unit === undefined ? '' : unitInWords(file, unit);
  return { name, value, ...(words !== '' && { unit: words }) };
}

function numberIn(measure: Parameter | undefined): number | undefined {
  const value = measure instanceof Typed ? numberOf(measure.value) : undefined;
  return value !== undefined && Number.isFinite(value) ? value : undefined;
}

const SI_SYMBOLS: { readonly [name: string]: string } = {
  METRE: 'm',
  GRAM: 'g',
  SECOND: 's',
  AMPERE: 'A',
  KELVIN: 'K',
  RADIAN: 'rad',
  NEWTON: 'N',
  PASCAL: 'Pa',
  JOULE: 'J',
  WATT: 'W',
  VOLT: 'V',
  HERTZ: 'Hz',
  DEGREE_CELSIUS: '°C',
};
const PREFIX_SYMBOLS: { readonly [name: string]: string } = {
  MEGA: 'M',
  KILO: 'k',
  CENTI: 'c',
  MILLI: 'm',
  MICRO: 'µ',
};
const POWERS: { readonly [power: string]: string } = {
  '1': '',
  '2': '²',
  '3': '³',
  '-1': '⁻¹',
  '-2': '⁻²',
  '-3': '⁻³',
};

/** A unit as people write it; '' where that is not known. */
function unitInWords(file: Part21File, unit: number): string {
  const elements = referencesOf(file.entity(unit, 'DERIVED_UNIT')?.[0]);
  if (elements.length === 0) return namedUnit(file, unit);
  const words = elements.map((element) => {
    const [base, exponent] = file.entity(element, 'DERIVED_UNIT_ELEMENT') ?? [];
    const name = namedUnit(file, referenceOf(base) ?? -1);
    const power = POWERS[String(numberOf(exponent))];
    return name === '' || power === undefined ? undefined : name + power;
  });
  return words.includes(undefined) ? '' : words.join('·');
}

function namedUnit(file: Part21File, unit: number): string {
  const conversion = textOf(file.entity(unit, 'CONVERSION_BASED_UNIT')?.[0]);
  if (conversion !== undefined) return conversion.toLowerCase();
  const [prefix, name] = file.entity(unit, 'SI_UNIT')?.slice(-2) ?? [];
  const symbol = name instanceof Enumeration ? SI_SYMBOLS[name.name] : undefined;
  if (symbol === undefined) return '';
  if (!(prefix instanceof Enumeration)) return symbol;
  const before = PREFIX_SYMBOLS[prefix.name];
  return before === undefined ? '' : before + symbol;
}

/** Kilogrammes and metres of the units that densities are written in. */
const MASS_IN: { readonly [unit: string]: number } = { kg: 1, g: 1e-3, Mg: 1e3 };
const LENGTH_IN: { readonly [unit: string]: number } = { m: 1, cm: 1e-2, mm: 1e-3 };

/** How many kg/m³ a unit of density is; undefined where it is none that is known. */
function densityScale(file: Part21File, unit: number | undefined): number | undefined {
  const elements = referencesOf(file.entity(unit, 'DERIVED_UNIT')?.[0]);
  let scale = 1;
  const powers = { mass: 0, length: 0 };
  for (const element of elements) {
    const [base, exponent] = file.entity(element, 'DERIVED_UNIT_ELEMENT') ?? [];
    const name = namedUnit(file, referenceOf(base) ?? -1);
    const power = numberOf(exponent) ?? 0;
    if (name in MASS_IN) powers.mass += power;
    else if (name in LENGTH_IN) powers.length += power;
    else return undefined;
    scale *= (MASS_IN[name] ?? LENGTH_IN[name]!) ** power;
  }
  return powers.mass === 1 && powers.length === -3 ? scale : undefined;
}
