import { describe, expect, it } from 'vitest';
import { USUAL } from '#server/auth/preferences';
import type { SplitBody } from '#server/views/operations/split-view';
import { measuresFor } from '../../ui/measures/measures';
import { factsInWords as inWords } from './facts';

const factsInWords = (bodies: Parameters<typeof inWords>[0], materials: { [body: string]: string }) =>
  inWords(bodies, materials, measuresFor(USUAL, null));

const body = (id: number, given: Partial<SplitBody> = {}): SplitBody => ({
  id,
  name: `b${id}`,
  kind: 'solid',
  colour: null,
  volume: 1e6,
  size: [200, 50.4, 2.5],
  faces: 6,
  error: null,
  doubt: null,
  ...given,
});

describe('the facts of what is selected', () => {
  it('are those of one body, or the sums of several', () => {
    expect(factsInWords([], {})).toBe('');
    expect(factsInWords([body(1)], {})).toBe('1\u202f000 cm³, 200 × 50 × 2.5 mm, 6 faces');
    expect(factsInWords([body(1)], { '1': 'Steel' })).toBe(
      '1\u202f000 cm³, 7.85 kg, 200 × 50 × 2.5 mm, 6 faces',
    );
    expect(factsInWords([body(1), body(2, { volume: 2e6 })], { '1': 'Steel', '2': 'Aluminium' })).toBe(
      '2 bodies, 3\u202f000 cm³, 13.3 kg',
    );
    // Without a material for each of them there is no mass.
    expect(factsInWords([body(1), body(2)], { '1': 'Steel' })).toBe('2 bodies, 2\u202f000 cm³');
  });

  it('say what is not known, and why', () => {
    expect(factsInWords([body(1, { volume: null })], {})).toBe('Not measured yet');
    expect(factsInWords([body(1, { volume: null, error: 'The kernel crashed.' })], {})).toBe(
      'The kernel crashed.',
    );
    expect(factsInWords([body(1, { volume: 0, kind: 'surface' })], {})).toContain('open surface');
  });
});
