import { Box3, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { hatchKinds } from './hatch-kinds';

const box = (x: number, y = 0, size = 10) =>
  new Box3(new Vector3(x, y, 0), new Vector3(x + size, y + size, size));

describe('hatching of neighbours', () => {
  it('differs where boxes meet, and is the first kind where nothing is near', () => {
    // A ring in a ring in a housing, and a screw far away.
    const kinds = hatchKinds([[box(0, 0, 30)], [box(5, 5, 20)], [box(10, 10, 10)], [box(100)]], 4);
    expect(new Set(kinds.slice(0, 3)).size).toBe(3);
    expect(kinds[3]).toBe(0);
  });

  it('looks at every placing of a body', () => {
    expect(hatchKinds([[box(0), box(200)], [box(205)]], 4)).toEqual([0, 1]);
    expect(hatchKinds([[box(0)], [box(205)]], 4)).toEqual([0, 0]);
    // Places of one body share its hatching, even where they meet.
    expect(hatchKinds([[box(0), box(5)]], 4)).toEqual([0]);
  });

  it('takes the kind that fewest neighbours have where there are too many of them', () => {
    const crowd = Array.from({ length: 9 }, (_, n) => [box(n)]);
    const kinds = hatchKinds(crowd, 4);
    for (let kind = 0; kind < 4; kind++)
      expect(kinds.filter((own) => own === kind).length).toBeGreaterThanOrEqual(2);
  });

  it('takes turns where there are thousands', () => {
    const many = Array.from({ length: 5000 }, () => [box(0)]);
    expect(hatchKinds(many, 4).slice(0, 6)).toEqual([0, 1, 2, 3, 0, 1]);
  });
});
