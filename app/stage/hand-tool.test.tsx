import * as THREE from 'three';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { IDENTITY } from '#core/product/matrix';
import { placementOf } from '#core/product/turns';
import { type HandMotion, HandTool, type Held } from './hand-tool';
import type { ToolStage } from './stage-tool';

/** Pixels of the picture. */
const [WIDTH, HEIGHT] = [800, 600];
const MIDDLE = [WIDTH / 2, HEIGHT / 2] as const;

describe('moving by hand', () => {
  const camera = new THREE.PerspectiveCamera(50, WIDTH / HEIGHT, 1, 1000);
  let canvas: HTMLCanvasElement;
  let tool: HandTool;
  let moves: (HandMotion & { isLetGo: boolean })[];
  const holdEye = vi.fn();
  // A cube of 20 mm about the origin, of row 4.
  const held = (some: Partial<Held> = {}): Held => ({
    rows: new Set([4]),
    moved: IDENTITY,
    axes: IDENTITY,
    ...some,
  });

  beforeEach(() => {
    camera.position.set(0, 0, 100);
    camera.lookAt(0, 0, 0);
    camera.updateMatrixWorld();
    holdEye.mockReset();
    canvas = document.createElement('canvas');
    canvas.getBoundingClientRect = () => new DOMRect(0, 0, WIDTH, HEIGHT);
    canvas.setPointerCapture = () => {};
    canvas.releasePointerCapture = () => {};
    Object.defineProperty(canvas, 'clientHeight', { value: HEIGHT });
    moves = [];
    tool = new HandTool((by, isLetGo) => moves.push({ ...by, isLetGo }));
    const cube = new THREE.Box3(new THREE.Vector3(-10, -10, -10), new THREE.Vector3(10, 10, 10));
    const body = { bounds: (wanted: (row: number) => boolean) => (wanted(4) ? cube : new THREE.Box3()) };
    const rayOf = ({ clientX, clientY }: PointerEvent) => {
      const ray = new THREE.Raycaster();
      ray.setFromCamera(new THREE.Vector2((2 * clientX) / WIDTH - 1, 1 - (2 * clientY) / HEIGHT), camera);
      return ray;
    };
    const stage = { canvas, camera, bodies: [body], holdEye, rayOf, redraw: () => {} };
    tool.attach(stage as unknown as ToolStage);
  });

  const at = (type: string, clientX: number, clientY: number, button: number) =>
    canvas.dispatchEvent(
      new PointerEvent(type, { clientX, clientY, button, pointerType: 'mouse', pointerId: 1, bubbles: true }),
    );
  /** Pixels from the middle. */
  const drag = (from: readonly [number, number], to: readonly [number, number]) => {
    tool.group.updateMatrixWorld(true);
    const [x, y] = MIDDLE;
    at('pointermove', x + from[0], y - from[1], -1);
    at('pointerdown', x + from[0], y - from[1], 0);
    at('pointermove', x + (from[0] + to[0]) / 2, y - (from[1] + to[1]) / 2, -1);
    at('pointermove', x + to[0], y - to[1], -1);
    at('pointerup', x + to[0], y - to[1], 0);
  };

  it('shifts along an axis only, in steps that can be seen, and says when it is let go', () => {
    tool.set(held(), false);
    drag([45, 0], [110, 12]);
    const { shift, step, isLetGo, motion } = moves.at(-1)!;
    expect(isLetGo).toBe(true);
    expect(moves.filter(({ isLetGo: is }) => is)).toHaveLength(1);
    expect(step).toBe(0.1);
    // 65 pixels are 10.1 mm there.
    expect(shift[0]).toBeCloseTo(10.1, 9);
    expect(shift.slice(1)).toEqual([0, 0]);
    expect([motion[3], motion[7], motion[11]]).toEqual([shift[0], 0, 0]);
    expect(holdEye.mock.calls.map(([is]) => is)).toEqual([true, false]);
  });

  it('goes along the axes of the assembly, from where it has moved to', () => {
    // The x axis of the assembly points up.
    tool.set(
      held({ axes: placementOf([0, 0, 0], [0, 0, 90]), moved: placementOf([20, 0, 0], [0, 0, 0]) }),
      false,
    );
    const right = 20 * 6.43;
    drag([right, 45], [right, 110]);
    const { shift, motion } = moves.at(-1)!;
    expect(shift[0]).toBeCloseTo(10.1, 9);
    expect(shift.slice(1)).toEqual([0, 0]);
    expect(motion[7]).toBeCloseTo(10.1, 9);
    expect(motion[3]).toBeCloseTo(0, 9);
  });

  it('turns about its middle in whole degrees', () => {
    tool.set(held({ moved: placementOf([20, 0, 0], [0, 0, 0]) }), true);
    const right = 20 * 6.43;
    // The ring about z is a circle from here.
    drag([right + 40, 40], [right, 57]);
    const { turn, motion, shift } = moves.at(-1)!;
    expect(turn!.axis).toBe(2);
    expect(turn!.angle).toBe(Math.round(turn!.angle));
    expect(turn!.angle).toBe(45);
    expect(shift).toEqual([0, 0, 0]);
    const middle = new THREE.Vector3(20, 0, 0).applyMatrix4(
      new THREE.Matrix4().fromArray([...motion]).transpose(),
    );
    expect(middle.distanceTo(new THREE.Vector3(20, 0, 0))).toBeLessThan(1e-9);
  });

  it('is on its handle only where it holds something', () => {
    tool.set(held(), false);
    tool.group.updateMatrixWorld(true);
    at('pointermove', MIDDLE[0] + 45, MIDDLE[1], -1);
    expect(tool.isGrabbed).toBe(true);
    at('pointermove', 5, 5, -1);
    expect(tool.isGrabbed).toBe(false);
    tool.set(null, false);
    at('pointermove', MIDDLE[0] + 45, MIDDLE[1], -1);
    expect(tool.isGrabbed).toBe(false);
    drag([45, 0], [110, 0]);
    expect(moves).toEqual([]);
  });
});
