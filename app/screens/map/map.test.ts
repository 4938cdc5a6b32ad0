import { describe, expect, it } from 'vitest';
import { middleOf, type PlacedNode, pathThrough, widthOf } from './layout';
import { nextNode } from './MapDrawing';

const node = (key: string, x: number, y: number): PlacedNode => ({
  key,
  what: 'file',
  path: key,
  label: key,
  role: 'part',
  files: 1,
  steps: 0,
  x,
  y,
  width: 100,
  height: 24,
});

describe('the map by the keyboard', () => {
  const nodes = [node('a', 0, 0), node('b', 200, 10), node('c', 200, 200), node('d', 0, 300)];
  it.each([
    ['a', 'ArrowRight', 'b'],
    ['a', 'ArrowDown', 'd'],
    ['b', 'ArrowDown', 'c'],
    ['c', 'ArrowLeft', 'd'],
    ['d', 'ArrowUp', 'a'],
    ['a', 'ArrowUp', undefined],
    ['a', 'x', undefined],
  ])('goes from %s by %s to %s', (from, key, to) => {
    expect(nextNode(nodes, nodes.find((one) => one.key === from)!, key)?.key).toBe(to);
  });
});

describe('a drawn link', () => {
  const at = (x: number, y: number) => ({ x, y });
  it('goes through its points, as a spline where there are enough', () => {
    expect(pathThrough([])).toBe('');
    expect(pathThrough([at(0, 0), at(10, 0)])).toBe('M0.0 0.0 L10.0 0.0');
    expect(pathThrough([at(0, 0), at(1, 2), at(3, 4), at(5, 6)])).toBe('M0.0 0.0 C1.0 2.0 3.0 4.0 5.0 6.0');
  });

  it('has its middle on itself', () => {
    expect(middleOf([at(0, 0), at(0, 10), at(20, 10), at(20, 0)])).toEqual(at(10, 7.5));
    expect(middleOf([at(0, 0), at(1, 1), at(2, 2), at(3, 3), at(4, 4), at(5, 5), at(6, 6)])).toEqual(
      at(3, 3),
    );
  });

  it('leaves room for names, within reason', () => {
    expect(widthOf('a')).toBeLessThan(widthOf('a longer name.stp'));
    expect(widthOf('x'.repeat(500))).toBe(250);
  });
});
