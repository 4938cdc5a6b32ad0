import { describe, expect, it } from 'vitest';
import { bytes, count, length, mass, plural, shortCount, time, volume } from './format';

describe('a count for a narrow column', () => {
  it.each([
    [99_999, '99,999'],
    [1_000_000, '1M'],
    [12_345_678, '12.3M'],
    [10_000_000_000, '10B'],
  ])('%d: %s', (value, text) => expect(shortCount(value)).toBe(text));
});

describe('numbers as people read them', () => {
  it.each([
    [0, '0 B'],
    [999, '999 B'],
    [1000, '1.0 kB'],
    [9949, '9.9 kB'],
    [54_321, '54 kB'],
    [3_400_000, '3.4 MB'],
    [2_500_000_000, '2.50 GB'],
  ])('%d bytes: %s', (value, text) => expect(bytes(value)).toBe(text));

  it.each([
    [906, '0.906 cm³'],
    [18_100, '18.1 cm³'],
    [1_526_000, '1,526 cm³'],
    [5_522_788_000, '5.52 m³'],
    [999_999_999, '1.00 m³'],
    [1e13, '10,000 m³'],
  ])('%d mm³: %s', (value, text) => expect(volume(value)).toBe(text));

  it.each([
    [0.256, '0.26 mm'],
    [12.5, '12.5 mm'],
    [2950.04, '2,950 mm'],
  ])('%d mm: %s', (value, text) => expect(length(value)).toBe(text));

  it('counts and says one or many', () => {
    expect(count(12_345)).toBe('12,345');
    expect([plural(1, 'file'), plural(2, 'file'), plural(0, 'body', 'bodies')]).toEqual([
      '1 file',
      '2 files',
      '0 bodies',
    ]);
  });

  it('says times the same on the server and in every browser', () => {
    expect(time('2026-03-05T07:08:09Z')).toBe('5 Mar 2026, 07:08 UTC');
    expect(time('2026-12-31T23:59:59+02:00')).toBe('31 Dec 2026, 21:59 UTC');
    expect(time('2026-09-01T00:00:00Z')).toBe('1 Sep 2026, 00:00 UTC');
  });
});

describe('mass', () => {
  it.each([
    [7_850_000, '7,850 kg'],
    [7850, '7.85 kg'],
    [7.85, '7.85 g'],
    [101_265, '101 kg'],
  ])('of %d g is %s', (grams, words) => expect(mass(grams)).toBe(words));
});
