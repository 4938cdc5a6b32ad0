import { describe, expect, it } from 'vitest';
import type { Point } from '#core/geometry/shape/cut';
import { cutterOf, freshDraft, isClosed, type PickedFace, picksFace, planeOf, sketchOf } from './draft';

const BOX = [0, 0, 0, 100, 20, 10];
const TOP: PickedFace = {
  of: 7,
  face: 2,
  row: 0,
  at: [3, 4, 10],
  normal: [0, 0, 1],
  isFlat: true,
  name: 'bar',
};

describe('a cut that is being drawn', () => {
  it('starts across the middle of the body', () => {
    expect(planeOf(freshDraft('plane', 'x', BOX), BOX)).toEqual({ at: [50, 10, 5], normal: [1, 0, 0] });
    expect(cutterOf(freshDraft('plane', 'x', BOX), BOX)).toEqual({
      cutter: { kind: 'plane', at: [50, 10, 5], normal: [1, 0, 0] },
    });
  });

  it('says what is missing, step by step', () => {
    const draft = freshDraft('line', 'face', BOX);
    expect(picksFace(draft)).toBe(true);
    expect(cutterOf(draft, BOX)).toEqual({ missing: expect.stringContaining('flat face') });
    const round = { ...draft, face: { ...TOP, isFlat: false } };
    expect(picksFace(round)).toBe(true);
    expect(cutterOf(round, BOX)).toEqual({ missing: 'That face is not flat. Pick a flat one.' });
    const picked = { ...draft, face: TOP };
    expect(picksFace(picked)).toBe(false);
    expect(cutterOf(picked, BOX)).toEqual({ missing: 'Click where the line starts.' });
    const points: Point[] = [
      [10, 0, 10],
      [10, 20, 10],
    ];
    expect(cutterOf({ ...picked, points: points.slice(1) }, BOX)).toEqual({
      missing: 'Click where it goes on.',
    });
    expect(cutterOf({ ...picked, points }, BOX)).toEqual({
      cutter: { kind: 'line', points, along: { of: 7, face: 2 } },
    });
  });

  it('takes the face itself for a plane on it, and a plane for one off it', () => {
    const on = { ...freshDraft('plane', 'face', BOX), face: TOP };
    expect(cutterOf(on, BOX)).toEqual({ cutter: { kind: 'face', of: 7, face: 2 } });
    expect(cutterOf({ ...on, offset: -4 }, BOX)).toEqual({
      cutter: { kind: 'plane', at: [3, 4, 6], normal: [0, 0, 1] },
    });
  });

  it('is drawn on until it closes', () => {
    const open = {
      ...freshDraft('line', 'z', BOX),
      points: [
        [0, 0, 5],
        [9, 0, 5],
        [9, 9, 5],
      ] as Point[],
    };
    expect(sketchOf(open, BOX, [[0, 0, 0]])).toMatchObject({ isDrawing: true, snaps: [[0, 0, 0]] });
    const closed = { ...open, points: [...open.points, open.points[0]!] };
    expect(isClosed(closed.points)).toBe(true);
    expect(sketchOf(closed, BOX, []).isDrawing).toBe(false);
    expect(sketchOf(freshDraft('face', 'z', BOX), BOX, [])).toMatchObject({ plane: null, isDrawing: false });
  });
});
