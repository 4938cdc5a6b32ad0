import { Box3, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { Eye } from './eye';

function setUp() {
  const eye = new Eye(document.createElement('canvas'), () => {});
  eye.resize(1000, 800);
  eye.look('corner', new Box3(new Vector3(0, 0, 0), new Vector3(400, 300, 200)), false);
  const inPicture = (point: readonly number[]) => {
    eye.advance(1);
    eye.camera.updateMatrixWorld();
    return new Vector3(...point).project(eye.camera).toArray().slice(0, 2);
  };
  return { eye, inPicture };
}

/** A corner of the model far from its middle, and some other points. */
const CORNER = [400, 0, 200] as const;
const OTHERS = [CORNER, [0, 0, 0], [400, 300, 0], [10, 200, 100]];

describe('the eye', () => {
  it('turns about the point that was pressed, which stays in its place', () => {
    const { eye, inPicture } = setUp();
    const before = inPicture(CORNER);
    const other = inPicture([0, 300, 0]);
    eye.turnAbout(CORNER);
    for (const [n, value] of inPicture(CORNER).entries()) expect(value).toBeCloseTo(before[n]!, 6);
    void eye.controls.rotate(0.7, -0.3, false);
    for (const [n, value] of inPicture(CORNER).entries()) expect(value).toBeCloseTo(before[n]!, 6);
    expect(Math.abs(inPicture([0, 300, 0])[0]! - other[0]!)).toBeGreaterThan(0.05);
  });

  it('shows the same when it looks straight again, and can go on from there', () => {
    const { eye, inPicture } = setUp();
    inPicture(CORNER);
    eye.turnAbout(CORNER);
    void eye.controls.rotate(0.7, -0.3, false);
    const before = OTHERS.map(inPicture);
    const { pose } = eye;
    eye.settle();
    const after = OTHERS.map(inPicture);
    for (const [n, place] of after.entries())
      for (const [axis, value] of place.entries()) expect(value).toBeCloseTo(before[n]![axis]!, 6);
    // Its pose alone says what is seen: a twin that is put there sees the same.
    const twin = setUp();
    twin.eye.put(pose);
    for (const [n, point] of OTHERS.entries())
      for (const [axis, value] of twin.inPicture(point).entries())
        expect(value).toBeCloseTo(before[n]![axis]!, 6);
  });

  it('goes back to where it was, and fits the whole without a rest of the other point', () => {
    const { eye, inPicture } = setUp();
    const before = inPicture(CORNER);
    eye.turn(20, 0, 1);
    inPicture(CORNER);
    eye.turnAbout(CORNER);
    void eye.controls.rotate(0.5, 0.1, false);
    inPicture(CORNER);
    eye.back();
    eye.advance(10);
    eye.advance(10);
    for (const [n, value] of inPicture(CORNER).entries()) expect(value).toBeCloseTo(before[n]!, 4);
    eye.turnAbout(CORNER);
    eye.look('front', new Box3(new Vector3(0, 0, 0), new Vector3(400, 300, 200)), false);
    expect(inPicture([200, 150, 100]).map((value) => Math.round(value * 1e6) / 1e6 + 0)).toEqual([0, 0]);
  });
});
