import { describe, expect, it } from 'vitest';
import { massInWords } from './materials';

describe('mass', () => {
  it.each([
    [1e9, 7850, '7,850 kg'],
    [1e6, 7850, '7.85 kg'],
    [1000, 7850, '7.85 g'],
    [12_900_000, 7850, '101 kg'],
  ])('of %d mm³ at %d kg/m³ is %s', (volume, density, words) =>
    expect(massInWords(volume, density)).toBe(words),
  );
});
