import type { LinkState } from '#core/files/links/resolve';
import type { Use } from '#core/product/structure';

/** Numbers as people read them, always with their unit. */
export function bytes(value: number): string {
  if (value < 1000) return `${value} B`;
  if (value < 1e6) return `${(value / 1e3).toFixed(value < 1e4 ? 1 : 0)} kB`;
  if (value < 1e9) return `${(value / 1e6).toFixed(1)} MB`;
  return `${(value / 1e9).toFixed(2)} GB`;
}

export function count(value: number): string {
  return value.toLocaleString('en');
}

const SHORT = new Intl.NumberFormat('en', { notation: 'compact', maximumFractionDigits: 1 });

/** A count for a narrow column: in full up to a hundred thousand, then rounded. */
export function shortCount(value: number): string {
  return value < 100_000 ? count(value) : SHORT.format(value);
}

export function plural(value: number, one: string, many = `${one}s`): string {
  return `${count(value)} ${value === 1 ? one : many}`;
}

/** @param value mm³ */
export function volume(value: number): string {
  const cubicCentimetres = value / 1000;
  const cubicMetres = cubicCentimetres / 1e6;
  // What rounds to a million is a cubic metre.
  if (Math.round(cubicCentimetres) >= 1e6)
    return `${cubicMetres >= 100 ? count(Math.round(cubicMetres)) : cubicMetres.toPrecision(3)} m³`;
  return `${cubicCentimetres >= 100 ? count(Math.round(cubicCentimetres)) : cubicCentimetres.toPrecision(3)} cm³`;
}

/** @param value g */
export function mass(value: number): string {
  const kilograms = value / 1000;
  if (kilograms >= 100) return `${count(Math.round(kilograms))} kg`;
  return kilograms >= 0.1 ? `${kilograms.toPrecision(3)} kg` : `${value.toPrecision(3)} g`;
}

/** @param value mm */
export function length(value: number): string {
  return `${value.toLocaleString('en', { maximumFractionDigits: Math.abs(value) >= 1000 ? 1 : 2 })} mm`;
}

/** A measured figure, to a micrometre or a thousandth of a degree. */
export function figure(value: number, unit: 'mm' | 'mm²' | '°'): string {
  const digits = value.toLocaleString('en', { maximumFractionDigits: unit === 'mm²' ? 2 : 3 });
  return unit === '°' ? `${digits}°` : `${digits} ${unit}`;
}

/** Sides of a box, with their unit. @param sides mm */
export function box(sides: readonly number[]): string {
  return `${sides.map((side) => side.toFixed(side < 10 ? 1 : 0)).join(' × ')} mm`;
}

const TIME = new Intl.DateTimeFormat('en', {
  timeZone: 'UTC',
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
  hourCycle: 'h23',
});

/** The same on the server and in every browser: UTC, day first, month in letters. */
export function time(iso: string): string {
  const parts = new Map(TIME.formatToParts(new Date(iso)).map(({ type, value }) => [type, value]));
  const [day, month, year, hour, minute] = (['day', 'month', 'year', 'hour', 'minute'] as const).map((part) =>
    parts.get(part),
  );
  return `${day} ${month} ${year}, ${hour}:${minute} UTC`;
}

export const STATE_WORDS: { [state in LinkState]: string } = {
  sound: 'sound',
  behind: 'behind',
  missing: 'missing',
  ambiguous: 'ambiguous',
  loop: 'loop',
};

/** What a part is for the bill of materials. */
export const USES: Readonly<Record<Use, string>> = {
  made: 'Made',
  bought: 'Bought',
  reference: 'Reference only',
};
