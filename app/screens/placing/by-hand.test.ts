import { describe, expect, it } from 'vitest';
import { IDENTITY } from '#core/product/matrix';
import { placementOf } from '#core/product/turns';
import type { HandMotion } from '../../stage/hand-tool';
import { draggedBy, movedBy } from './by-hand';
import { standingOn } from './on-face';

const above = placementOf([100, 0, 0], [0, 0, 90]);
const BEFORE = { position: [1.234, 5, 0], turn: [0, 0, 30] } as const;

describe('what was moved by hand', () => {
  it('comes to round numbers along the axes that it went, and stays elsewhere as it was', () => {
    const by: HandMotion = { shift: [10, 0, 0], step: 1, turn: null, motion: IDENTITY };
    expect(draggedBy(by, above, BEFORE)).toEqual({ position: [11, 5, 0], turn: [0, 0, 30] });
    expect(draggedBy({ ...by, shift: [0, 0.3, 0], step: 0.1 }, above, BEFORE).position).toEqual([
      1.234, 5.3, 0,
    ]);
  });

  it('turns as the scene does, as seen from its assembly', () => {
    const turn = placementOf([0, 0, 0], [0, 0, 15]);
    const by: HandMotion = { shift: [0, 0, 0], step: 1, turn: { axis: 2, angle: 15 }, motion: turn };
    expect(draggedBy(by, IDENTITY, { position: [0, 0, 7], turn: [0, 0, 30] })).toEqual({
      position: [0, 0, 7],
      turn: [0, 0, 45],
    });
  });

  it('moves along the axes of the scene, though its assembly is turned', () => {
    const moved = movedBy(placementOf([0, 8, 0], [0, 0, 0]), above, BEFORE);
    expect(moved).toEqual({ position: [9.234, 5, 0], turn: [0, 0, 30] });
  });

  it('stands on a face with its z axis out of it', () => {
    expect(standingOn([100, 3, 40], [0, 0, 1], above)).toEqual({ position: [3, 0, 40], turn: [0, 0, 0] });
    expect(standingOn([100, 3, 40], [0, 1, 0], above)).toEqual({ position: [3, 0, 40], turn: [0, 90, 0] });
  });
});
