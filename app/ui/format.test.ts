import { describe, expect, it } from 'vitest';
import { count, plural, shortCount } from './format';
import { bytesInWords } from './measures/measures';

describe('a count for a narrow column', () => {
  it.each([
    [99_999, '99\u202f999'],
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
  ])('%d bytes: %s', (value, text) => expect(bytesInWords(value)).toBe(text));

  it('counts and says one or many', () => {
    expect(count(12_345)).toBe('12\u202f345');
    expect([plural(1, 'file'), plural(2, 'file'), plural(0, 'body', 'bodies')]).toEqual([
      '1 file',
      '2 files',
      '0 bodies',
    ]);
  });
});
