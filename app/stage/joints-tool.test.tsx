import * as THREE from 'three';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { type DrawnJoint, JointsTool } from './joints-tool';
import type { ToolStage } from './stage-tool';

const MOVING = 1;

const TURNS: DrawnJoint = {
  at: [0, 0, 0],
  direction: [0, 0, 1],
  across: [1, 0, 0],
  drags: 'turn',
  reach: 10,
};

describe('moving groups by hand', () => {
  let canvas: HTMLCanvasElement;
  let tool: JointsTool;
  let row = MOVING;
  let isForward = true;
  const driven: [joint: number, ...values: number[]][] = [];
  const start = { joint: 0, value: [10] };
  const heardByTheStage = vi.fn();

  beforeEach(() => {
    vi.stubGlobal('requestAnimationFrame', (then: () => void) => then());
    row = MOVING;
    isForward = true;
    driven.length = 0;
    heardByTheStage.mockReset();
    canvas = document.createElement('canvas');
    // Seen from above; a pixel is a mm, and the joint's axis stands in the middle.
    const stage = {
      canvas,
      rayOf: ({ clientX, clientY }: PointerEvent) =>
        new THREE.Raycaster(new THREE.Vector3(clientX, clientY, 100), new THREE.Vector3(0, 0, -1)),
      hitUnder: () => ({ pick: { row } }),
      redraw: () => {},
    } as unknown as ToolStage;
    canvas.addEventListener('pointerdown', heardByTheStage);
    tool = new JointsTool(
      (of) => (of === MOVING ? { ...start, isForward } : null),
      (joint, value) => driven.push([joint, ...value.map((one) => Math.round(one))]),
    );
    start.value = [10];
    tool.set([TURNS]);
    tool.attach(stage);
    tool.setMoving(true);
  });
  afterEach(() => vi.unstubAllGlobals());

  const at = (type: string, clientX: number, clientY: number) =>
    new PointerEvent(type, { clientX, clientY, button: 0, bubbles: true });
  const press = (x: number, y: number) => canvas.dispatchEvent(at('pointerdown', x, y));
  const move = (x: number, y: number) => tool.move(at('pointermove', x, y));
  const release = (x: number, y: number) => canvas.dispatchEvent(at('pointerup', x, y));

  it('drags what is pressed, and lets go with the button', () => {
    press(50, 0);
    move(0, 50);
    release(0, 50);
    move(-50, 0);
    expect(driven).toEqual([[0, 100]]);
    expect(heardByTheStage).not.toHaveBeenCalled();
  });

  it('drives a joint the other way round where the group is on its first side', () => {
    isForward = false;
    press(50, 0);
    move(0, 50);
    expect(driven).toEqual([[0, -100]]);
  });

  it('slides in a plane, in both of its directions at once', () => {
    start.value = [1, 2];
    tool.set([{ ...TURNS, across: [0, 1, 0], drags: 'slide' }]);
    press(50, 0);
    move(30, 7);
    expect(driven).toEqual([[0, 1 + 7, 2 + 20]]);
  });

  it('holds to the axis as it stood, also where that goes along with what is dragged', () => {
    isForward = false;
    const along: DrawnJoint = { ...TURNS, direction: [1, 0, 0], across: [0, 1, 0], drags: 'way' };
    tool.set([along]);
    press(50, 0);
    move(60, 0);
    tool.set([{ ...along, at: [10, 0, 0] }]);
    move(65, 0);
    expect(driven).toEqual([
      [0, -20],
      [0, -25],
    ]);
  });

  it('takes hold by a click, and lets go by another', () => {
    press(50, 0);
    release(51, 0);
    move(0, 50);
    press(0, 50);
    release(0, 50);
    move(-50, 0);
    expect(driven).toEqual([[0, 100]]);
  });

  it('leaves a press beside the groups to the stage', () => {
    row = 2;
    press(50, 0);
    move(0, 50);
    expect(driven).toEqual([]);
    expect(heardByTheStage).toHaveBeenCalledOnce();
  });

  it('leaves all presses to the stage when it does not move', () => {
    tool.setMoving(false);
    press(50, 0);
    expect(heardByTheStage).toHaveBeenCalledOnce();
  });

  it('hears nothing more once it is taken off', () => {
    tool.detach();
    press(50, 0);
    move(0, 50);
    expect(driven).toEqual([]);
  });
});
