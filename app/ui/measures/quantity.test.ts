import { describe, expect, it } from 'vitest';
import type { DecimalSign } from '#server/auth/preferences';
import { type Kind, readQuantity } from './quantity';

const read = (text: string, kind: Kind = 'length', decimal: DecimalSign = '.') => {
  const reading = readQuantity(text, kind, 'mm', decimal);
  return 'value' in reading ? Number(reading.value.toFixed(9)) : reading.error;
};

describe('what is typed into a field for numbers', () => {
  it.each([
    ['3.5', 3.5],
    ['3,5', 3.5],
    ['-7,5', -7.5],
    ['−7.5', -7.5],
    ['.5', 0.5],
    ['5.', 5],
    ['1.200,5', 1200.5],
    ['1,200.5', 1200.5],
    ['1 200,5', 1200.5],
    ["1'200", 1200],
    ['1.200.000', 1_200_000],
    ['0,125', 0.125],
    ['12 in', 304.8],
    ['12"', 304.8],
    ['3 cm', 30],
    ['3cm + 2', 32],
    ['1 ft + 2 in', 355.6],
    ['120/2+3', 63],
    ['2*(3+4)', 14],
    ['2 * 3 cm', 60],
    ['1/2 in', 12.7],
    ['1 3/8"', 34.925],
    ['2 * 1/2 in + 1 mm', 26.4],
    ['10 1/2 in', 266.7],
    ['3 cm / 2 mm', 15],
    ['12.5 mm', 12.5],
    ['  7  ', 7],
    ['250 µm', 0.25],
  ])('%s is %s mm', (text, value) => {
    expect(read(text)).toBe(value);
  });

  it('reads a sign that may be either as whoever types it writes numbers', () => {
    expect(read('1,200', 'length', '.')).toBe(1200);
    expect(read('1,200', 'length', ',')).toBe(1.2);
    expect(read('1.200', 'length', ',')).toBe(1200);
    expect(read('1.200', 'length', '.')).toBe(1.2);
  });

  it.each([
    '',
    ' ',
    'abc',
    '3 kg',
    '3,5,1',
    '1.2,3.4',
    '2 mm * 3 mm',
    '5 / 0',
    '5 / 2 mm',
    '(3',
    '3 4',
    '^',
    '2^3',
  ])('refuses %j in words', (text) => {
    expect(read(text)).toMatch(/^“.*” is not a length/);
  });

  it.each(['sin(3)', 'q0', 'constructor', '__proto__', '1;alert(1)', 'x = 3', '[1]', `${'9+'.repeat(60)}9`])(
    'computes nothing but sums: %s',
    (text) => {
      expect(read(text)).toMatch(/is not a length/);
    },
  );

  it('knows the units of each kind, and no others', () => {
    expect(read('30°', 'angle')).toBe(30);
    expect(read('-3,5 deg', 'angle')).toBe(-3.5);
    expect(read('3,5 %', 'percent')).toBe(3.5);
    expect(read('3 mm', 'percent')).toMatch(/is not a part of a hundred/);
    expect(readQuantity('12', 'length', 'in', '.')).toEqual({ value: 304.8 });
    expect(readQuantity('2 * 1 cm', 'length', 'in', '.')).toEqual({ value: 20 });
  });
});
