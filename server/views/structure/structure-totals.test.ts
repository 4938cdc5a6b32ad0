import { describe, expect, it } from 'vitest';
import { atOnce } from '#core/steps';
import { type OwnFacts, totalSteps } from './structure-totals';

interface Node extends OwnFacts {
  below: Node[];
}

const node = (file: string, bodies: number, volume: number | null, below: Node[] = []): Node => ({
  file,
  bodies,
  volume,
  density: file.startsWith('steel') ? 7850 : null,
  below,
});
/** Each after what it places. */
const totalsOf = (...nodes: Node[]) => [...atOnce(totalSteps(nodes, (own) => own)).values()];

describe('what lies below a row', () => {
  it('counts every placing, and every file once', () => {
    const pin = node('steel-pin.stp', 2, 1000);
    const sub = node('sub.stp', 0, null, [pin, pin, pin]);
    const top = node('top.stp', 0, null, [sub, sub, pin, pin, pin, pin]);
    expect(totalsOf(pin, sub, top)).toEqual([
      { bodies: 2, volume: 1000, mass: expect.closeTo(7.85), files: 1 },
      { bodies: 6, volume: 3000, mass: expect.closeTo(23.55), files: 2 },
      { bodies: 20, volume: 10_000, mass: expect.closeTo(78.5), files: 3 },
    ]);
  });

  it('does not know the whole where it does not know a part, but what stands beside it', () => {
    const parts = [node('steel-new.stp', 1, null), node('cast.stp', 1, 500), node('steel.stp', 1, 500)];
    expect(
      totalsOf(...parts, node('top.stp', 0, null, parts)).map(({ volume, mass }) => [volume, mass]),
    ).toEqual([
      [null, null],
      [500, null],
      [500, expect.closeTo(3.925)],
      [null, null],
    ]);
  });

  it('ends where a circle closes', () => {
    const top = node('top.stp', 1, 10);
    const sub = node('sub.stp', 2, 10, [top]);
    top.below.push(sub);
    expect(totalsOf(sub, top).map(({ bodies }) => bodies)).toEqual([2, 3]);
  });
});
