import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { Displacement } from './displacement';

const middles = new Map([
  [0, new THREE.Vector3(0, 0, 0)],
  [1, new THREE.Vector3(10, 0, 0)],
  [2, new THREE.Vector3(0, -4, 2)],
]);
const centre = new THREE.Vector3(2, 0, 0);
const drawnAt = (displacement: Displacement) => {
  displacement.layOut(middles, centre);
  return [0, 1, 2].map(
    (row) =>
      displacement
        .of(row)
        ?.toArray()
        .map((value) => value + 0) ?? null,
  );
};

describe('where bodies are drawn', () => {
  it('is where they belong at first', () => {
    const displacement = new Displacement();
    expect(displacement.layOut(middles, centre)).toBe(false);
    expect(drawnAt(displacement)).toEqual([null, null, null]);
    expect(displacement.shiftOf([1])).toEqual([0, 0, 0]);
    expect(displacement.shiftOf([])).toEqual([0, 0, 0]);
  });

  it('goes away from the middle of the model as they are pulled apart', () => {
    const displacement = new Displacement();
    displacement.pullApart(0.5);
    expect(drawnAt(displacement)).toEqual([
      [-1, 0, 0],
      [4, 0, 0],
      [-1, -2, 1],
    ]);
    displacement.pullApart(0);
    expect(drawnAt(displacement)).toEqual([null, null, null]);
  });

  it('adds what is shifted by hand to that, and puts only this back', () => {
    const displacement = new Displacement();
    displacement.pullApart(1);
    displacement.shift([1], [0, 0, 7]);
    expect(drawnAt(displacement)[1]).toEqual([8, 0, 7]);
    displacement.putBack();
    expect(drawnAt(displacement)[1]).toEqual([8, 0, 0]);
  });

  it('follows a drag from where it began, however often the pointer moves', () => {
    const displacement = new Displacement();
    displacement.shift([0], [1, 0, 0]);
    displacement.hold([0, 2]);
    displacement.drag(new THREE.Vector3(0, 5, 0));
    displacement.drag(new THREE.Vector3(0, 9, 0));
    expect(displacement.shiftOf([0, 2])).toEqual([1, 9, 0]);
    expect(drawnAt(displacement)).toEqual([[1, 9, 0], null, [0, 9, 0]]);
    displacement.hold([2]);
    displacement.drag(new THREE.Vector3(3, 0, 0));
    expect(drawnAt(displacement)).toEqual([[1, 9, 0], null, [3, 9, 0]]);
  });
});
