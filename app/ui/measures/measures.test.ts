import { describe, expect, it } from 'vitest';
import { type Preferences, USUAL } from '#server/auth/preferences';
import { measuresFor, timeInWords } from './measures';

const as = (chosen: Partial<Preferences> = {}, zone: string | null = null) =>
  measuresFor({ ...USUAL, ...chosen }, zone);
/** Thousands apart by an ordinary space, to be read here. */
const plain = (text: string) => text.replaceAll('\u202f', ' ');

describe('values as somebody reads them', () => {
  it.each([
    [906, '0.906 cm³'],
    [18_100, '18.1 cm³'],
    [1_526_000, '1 526 cm³'],
    [5_522_788_000, '5.52 m³'],
    [999_999_999, '1.00 m³'],
    [1e13, '10 000 m³'],
  ])('%d mm³: %s', (value, text) => expect(plain(as().volume(value))).toBe(text));

  it.each([
    [0.256, '0.26 mm'],
    [12.5, '12.5 mm'],
    [-1e-9, '0 mm'],
    [-0.4, '-0.4 mm'],
    [2950.04, '2 950 mm'],
  ])('%d mm: %s', (value, text) => expect(plain(as().length(value))).toBe(text));

  it.each([
    [7_850_000, '7 850 kg'],
    [7850, '7.85 kg'],
    [7.85, '7.85 g'],
    [101_265, '101 kg'],
  ])('%d g: %s', (grams, words) => expect(plain(as().mass(grams))).toBe(words));

  it('says them in the units and with the signs that were chosen', () => {
    const inches = as({ length: 'in', mass: 'lb' });
    expect(inches.length(25.4)).toBe('1 in');
    expect(inches.box([25.4, 50.8, 254])).toBe('1 × 2 × 10 in');
    expect(inches.volume(16_387.064)).toBe('1.00 in³');
    expect(inches.mass(453.592_37)).toBe('1.00 lb');
    expect(inches.figure(645.16, 'mm²')).toBe('1 in²');
    const metres = as({ length: 'm', mass: 'g', decimal: ',' });
    expect(plain(metres.length(1_234_560))).toBe('1 234,56 m');
    expect(plain(metres.mass(2540))).toBe('2 540 g');
    expect(metres.figure(12.3456, '°')).toBe('12,346°');
  });

  it('has one unit for all of a column, fixed by the largest', () => {
    const masses = as().masses([2.5, null, 12_000]);
    expect([2.5, 12_000].map(masses.words)).toEqual(['0.00250 kg', '12.0 kg']);
    expect(as().masses([2.5, 80]).words(80)).toBe('80.0 g');
    const volumes = as().volumes([5120, 2e9, undefined]);
    expect(volumes.unit).toBe('m³');
    expect(volumes.words(5120)).toBe('0.00000512 m³');
    expect(volumes.amount(5e8)).toBe(0.5);
  });

  it('says times on the clock of whoever looks: chosen, else the browser’s, else UTC', () => {
    const moment = '2026-12-31T23:59:59Z';
    expect(as().time(moment)).toBe('31 Dec 2026, 23:59 UTC');
    expect(as({}, 'Europe/Zurich').time(moment)).toBe('1 Jan 2027, 00:59');
    expect(as({ zone: 'America/New_York' }, 'Europe/Zurich').time(moment)).toBe('31 Dec 2026, 18:59');
    expect(timeInWords('2026-03-05T07:08:09Z', 'UTC')).toBe('5 Mar 2026, 07:08');
    expect(timeInWords('2026-09-01T00:00:00Z', 'UTC')).toBe('1 Sep 2026, 00:00');
  });
});
