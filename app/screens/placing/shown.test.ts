import { describe, expect, it } from 'vitest';
import { IDENTITY, type Matrix4, multiply } from '#core/product/matrix';
import { placementOf } from '#core/product/turns';
import { copiesOf, firstRowsOf, insteadOf, motionsOf, placedIn, posesOfPlaced } from './shown';

const at = (x: number, y = 0, z = 0): Matrix4 => placementOf([x, y, z], [0, 0, 0]);
const turned = placementOf([10, 0, 0], [0, 0, 90]);

/** A frame that is placed twice, with a pin in it that is a file with a body below; a plate. */
const VIEW = {
  rows: [
    { key: '', parent: -1 },
    { key: 'frame 1', parent: 0 },
    { key: 'pin', parent: 1 },
    { key: '', parent: 2 },
    { key: 'frame 2', parent: 0 },
    { key: 'pin', parent: 4 },
    { key: 'plate', parent: 0 },
  ],
  placements: { 'frame 1': at(100), 'frame 2': turned, pin: at(1, 2, 3), plate: IDENTITY },
  occurrences: [
    { key: 'frame 1', component: 7 },
    { key: 'frame 2', component: 7 },
    { key: 'pin', component: 8 },
    { key: 'plate', component: 9 },
  ] as never,
};
const shape = (row: number, placement: Matrix4) => ({ row, body: 0, name: '', placement });
const SCENE = {
  instances: [
    shape(3, multiply(at(100), at(1, 2, 3))),
    shape(5, multiply(turned, at(1, 2, 3))),
    shape(6, IDENTITY),
  ],
};
const near = (found: readonly (readonly number[])[], wanted: readonly Matrix4[]) => {
  expect(found).toHaveLength(wanted.length);
  for (const [n, one] of wanted.entries())
    for (const [k, value] of one.entries()) expect(found[n]![k]).toBeCloseTo(value, 9);
};

describe('what the stage shows of a placing', () => {
  it('moves an occurrence wherever its assembly is placed, with all that is below it', () => {
    const motions = motionsOf(VIEW, new Map([['pin', at(1, 2, 13)]]));
    expect([...motions.keys()]).toEqual([2, 3, 5]);
    near([...motions.values()], [at(0, 0, 10), at(0, 0, 10), at(0, 0, 10)]);
    const turnedBy = motionsOf(VIEW, new Map([['pin', at(2, 2, 3)]]));
    // In the second frame, which is turned, along y.
    near([turnedBy.get(2)!, turnedBy.get(5)!], [at(1), at(0, 1)]);
  });

  it('moves what a moved assembly holds', () => {
    const motions = motionsOf(VIEW, new Map([['frame 1', at(100, 0, 5)]]));
    expect([...motions.keys()]).toEqual([1, 2, 3]);
    near([motions.get(3)!], [at(0, 0, 5)]);
  });

  it('tells the rows of the first place of each, with what is below', () => {
    expect([...firstRowsOf(VIEW, new Set(['pin', 'plate']))]).toEqual([2, 3, 6]);
  });

  it('shows an occurrence once more', () => {
    const copies = copiesOf(VIEW, SCENE, 'pin', [at(5, 2, 3)]);
    near(
      copies.map(({ placement }) => placement),
      [multiply(at(100), at(5, 2, 3)), multiply(turned, at(5, 2, 3))],
    );
    expect(copies.every(({ tone }) => tone === 'focus')).toBe(true);
  });

  it('shows a part in an assembly wherever that is, at the top, and instead of another', () => {
    const view = { ...VIEW, part: { path: 'x.stp', name: 'X', instances: [shape(7, at(0, 0, 1))] } };
    const stood = (into: number, placement: Matrix4) => {
      const poses = posesOfPlaced(view, into, placement);
      const placed = placedIn(view, into);
      expect(placed.map(({ row }) => row)).toEqual([...poses.keys()]);
      return placed.map(({ row, placement: before }) => multiply(poses.get(row)!, before));
    };
    near(stood(7, at(1)), [multiply(at(101), at(0, 0, 1)), multiply(multiply(turned, at(1)), at(0, 0, 1))]);
    near(stood(1, at(1)), [at(1, 0, 1)]);
    near(
      insteadOf(view, new Set(['plate']), at(0, 0, 9)).map(({ placement }) => placement),
      [at(0, 0, 10)],
    );
  });
});
