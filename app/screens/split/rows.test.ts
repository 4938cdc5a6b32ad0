import { describe, expect, it } from 'vitest';
import { renamed } from '#core/name-pattern';
import type { SplitBody } from '#server/views/operations/split-view';
import { apart, joined, pastedNames, positionsIn, splitRows, withChoice, withName } from './rows';

const body = (id: number, name: string): SplitBody => ({
  id,
  name,
  kind: 'solid',
  colour: null,
  volume: 1,
  size: null,
  faces: 6,
  error: null,
  doubt: null,
});
const bodies = [body(1, 'plate'), body(2, 'bar 1'), body(3, 'bar 2'), body(4, 'lug')];
const component = (name: string, ...own: number[]) => ({
  name,
  file: `${name}.stp`,
  problem: null,
  proposal: null,
  bodies: own,
  mirrorOf: null,
  isJoined: false,
});
const components = [component('plate', 0), component('bar', 1, 2)];

describe('the split table', () => {
  it('lists components, their bodies, and what is left', () => {
    const kinds = (closed = false, filter = '') =>
      splitRows(bodies, components, () => closed, filter).map(({ kind, key }) => `${kind} ${key}`);
    expect(kinds()).toEqual(['component c1', 'component c2', 'body b2', 'body b3', 'left b4']);
    expect(kinds(true)).toEqual(['component c1', 'component c2', 'left b4']);
    expect(kinds(true, 'BAR 2')).toEqual(['component c2']);
  });

  it('keeps one name for a component, whichever of its bodies had one', () => {
    expect(withName({ '3': 'old', '4': 'lug' }, bodies, components[1]!, 'new')).toEqual({
      '2': 'new',
      '4': 'lug',
    });
    expect(withName({ '2': 'old' }, bodies, components[1]!, '')).toEqual({});
  });

  it('joins bodies to one component, and takes it apart', () => {
    expect(joined([], [1, 3])).toEqual([[1, 3]]);
    expect(joined([[1, 3]], [3, 4])).toEqual([[3, 4]]);
    expect(joined([[1, 2, 3]], [3, 4])).toEqual([
      [1, 2],
      [3, 4],
    ]);
    expect(
      apart(
        [
          [1, 3],
          [2, 4],
        ],
        [1, 3],
      ),
    ).toEqual([[2, 4]]);
    const rows = splitRows(bodies, components, () => false, '');
    expect(positionsIn(rows.filter(({ key }) => ['c2', 'b3', 'b4'].includes(key)))).toEqual([1, 2, 3]);
  });

  it('sets and takes back what is chosen for bodies, and leaves the others', () => {
    const chosen = { '1': 'Steel', '4': 'Brass' };
    expect(withChoice(chosen, [1, 2], 'Glass')).toEqual({ '1': 'Glass', '2': 'Glass', '4': 'Brass' });
    expect(withChoice(chosen, [1, 2], null)).toEqual({ '4': 'Brass' });
    expect(chosen).toEqual({ '1': 'Steel', '4': 'Brass' });
  });

  it('takes the first column of what is pasted', () => {
    expect(pastedNames('a\tx\r\nb\tx\r\n\r\nc\n')).toEqual(['a', 'b', '', 'c']);
  });

  it('finds and replaces plain text, also with signs of patterns', () => {
    const change = { find: 'Bar (1)', replace: '$& tube', prefix: 'HX-', suffix: '_r' };
    expect(renamed('bar (1) left', change)).toBe('HX-$& tube left_r');
    expect(renamed('rib', { ...change, find: '' })).toBe('HX-rib_r');
  });
});

it('has a row of its own for each place of a body', () => {
  const placed = [body(5, 'pin'), body(7, 'bar'), body(5, 'pin'), body(5, 'pin')];
  const keys = splitRows(placed, [], () => false, '').map(({ key }) => key);
  expect(keys).toEqual(['b5', 'b7', 'b5.2', 'b5.3']);
});
