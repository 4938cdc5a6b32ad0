import type { DecimalSign, LengthUnit, Preferences } from '#server/auth/preferences';

/** Of each unit of length: millimetres in it, and the digits after the sign that say a hundredth of a millimetre. */
export const LENGTHS: { readonly [unit in LengthUnit]: { mm: number; digits: number } } = {
  mm: { mm: 1, digits: 2 },
  cm: { mm: 10, digits: 3 },
  m: { mm: 1000, digits: 5 },
  in: { mm: 25.4, digits: 3 },
};

/** Cubic millimetres in units of volume. */
const VOLUMES = { 'cm³': 1e3, 'm³': 1e9, 'in³': 25.4 ** 3 };

/** Grams in units of mass (the pound of the international agreement of 1959). */
const MASSES = { g: 1, kg: 1000, lb: 453.59237 };

/** The size of values of one kind in one unit: of all that stand below each other. */
export interface Scale {
  unit: string;
  /** How much a value is in the unit. */
  amount: (value: number) => number;
  /** With its unit. */
  words: (value: number) => string;
}

/** Values as somebody reads them, always with their unit. */
export interface Measures {
  preferences: Preferences;
  /** A number with at most so many digits after the sign. */
  number: (value: number, digits: number) => string;
  /** @param value mm */
  length: (value: number) => string;
  /** Sides of a box. @param sides mm */
  box: (sides: readonly number[]) => string;
  /** A measured figure, to a micrometre or a thousandth of a degree. @param value mm, mm² or degrees */
  figure: (value: number, unit: 'mm' | 'mm²' | '°') => string;
  /** @param value mm³ */
  volume: (value: number) => string;
  /** @param value g */
  mass: (value: number) => string;
  /** How large a file is, in thousands. */
  bytes: (value: number) => string;
  /** A part of a whole, with just so many digits after the sign. @param part 0 to 1 */
  percent: (part: number, digits: number) => string;
  /** One unit for all values of a column, fixed by the largest. @param values mm³ */
  volumes: (values: readonly (number | null | undefined)[]) => Scale;
  /** @param values g */
  masses: (values: readonly (number | null | undefined)[]) => Scale;
  /** Day first, month in letters. */
  time: (iso: string) => string;
}

/** Between thousands, as ISO 80000-1, 7.3.1 has it: no sign that somebody reads as another. */
const GROUPS = '\u202f';

/** A number as ISO 80000-1 writes it: thousands apart by a thin space. */
export function numberInWords(value: number, digits: number, decimal: DecimalSign = '.'): string {
  const text = value.toLocaleString('en', { maximumFractionDigits: digits });
  // What is rounded to nothing has no sign.
  if (text === '-0') return '0';
  return text.replaceAll(/[,.]/g, (sign) => (sign === ',' ? GROUPS : decimal));
}

/** How large a file is. @example bytesInWords(1_234_567) // '1.2 MB' */
export function bytesInWords(value: number, decimal: DecimalSign = '.'): string {
  const written = (size: number, digits: number, unit: string) =>
    `${(value / size).toFixed(digits).replace('.', decimal)} ${unit}`;
  if (value < 1000) return `${value} B`;
  if (value < 1e6) return written(1e3, value < 1e4 ? 1 : 0, 'kB');
  return value < 1e9 ? written(1e6, 1, 'MB') : written(1e9, 2, 'GB');
}

/** Three digits that count, and never fewer than stand before the sign. */
function threeDigits(value: number, decimal: DecimalSign): string {
  const size = Math.abs(value);
  if (size >= 100 || size === 0) return numberInWords(Math.round(value), 0, decimal);
  return value.toPrecision(3).replace('.', decimal);
}

/** @param zone of the browser; null while it is not known */
export function measuresFor(preferences: Preferences, zone: string | null): Measures {
  const { length: unit, decimal } = preferences;
  const { mm, digits } = LENGTHS[unit];
  const number = (value: number, most: number) => numberInWords(value, most, decimal);
  const scale = (named: string, size: number): Scale => {
    const amount = (value: number) => value / size;
    return { unit: named, amount, words: (value) => `${threeDigits(amount(value), decimal)} ${named}` };
  };
  const volumes = (values: readonly (number | null | undefined)[]) => {
    // What is a million and more of the small unit is said in the large one.
    const named = unit === 'in' ? 'in³' : Math.round(largest(values) / VOLUMES['cm³']) >= 1e6 ? 'm³' : 'cm³';
    return scale(named, VOLUMES[named]);
  };
  const masses = (values: readonly (number | null | undefined)[]) => {
    const named = preferences.mass !== 'by size' ? preferences.mass : largest(values) >= 100 ? 'kg' : 'g';
    return scale(named, MASSES[named]);
  };
  const inZone = preferences.zone ?? zone ?? 'UTC';
  return {
    preferences,
    number,
    length: (value) => {
      const long = Math.abs(value) >= 1000 ? 1 : 0;
      return `${number(value / mm, digits - long)} ${unit}`;
    },
    box: (sides) => {
      const whole = (side: number) => digits - 2 + (side < 10 ? 1 : 0);
      return `${sides.map((side) => number(side / mm, whole(side))).join(' × ')} ${unit}`;
    },
    figure: (value, kind) => {
      if (kind === '°') return `${number(value, 3)}°`;
      if (kind === 'mm') return `${number(value / mm, digits + 1)} ${unit}`;
      return `${number(value / mm ** 2, 2 * digits - 2)} ${unit}²`;
    },
    volume: (value) => volumes([value]).words(value),
    mass: (value) => masses([value]).words(value),
    bytes: (value) => bytesInWords(value, decimal),
    percent: (part, most) => `${(100 * part).toFixed(most).replace('.', decimal)} %`,
    volumes,
    masses,
    time: (iso) => timeInWords(iso, inZone) + (inZone === 'UTC' ? ' UTC' : ''),
  };
}

function largest(values: readonly (number | null | undefined)[]): number {
  return values.reduce<number>((most, value) => Math.max(most, value ?? 0), 0);
}

/** Making one takes a hundred times as long as using it. */
const clocks = new Map<string, Intl.DateTimeFormat>();

/** A moment in a time zone, day first, month in letters. @example timeInWords(iso, 'UTC') // '29 Nov 2026, 14:05' */
export function timeInWords(iso: string, zone: string): string {
  let clock = clocks.get(zone);
  if (!clock) {
    clock = new Intl.DateTimeFormat('en', {
      timeZone: zone,
      day: 'numeric',
      month: 'short',
      year: 'numeric',
      hour: '2-digit',
      minute: '2-digit',
      hourCycle: 'h23',
    });
    clocks.set(zone, clock);
  }
  const parts = new Map(clock.formatToParts(new Date(iso)).map(({ type, value }) => [type, value]));
  const [day, month, year, hour, minute] = (['day', 'month', 'year', 'hour', 'minute'] as const).map((part) =>
    parts.get(part),
  );
  return `${day} ${month} ${year}, ${hour}:${minute}`;
}
