import * as THREE from 'three';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { ExactBody } from '#core/geometry/shape/exact';
import { ExactShapes } from './exact-shapes';
import { type LaidFace, LayTool } from './lay-tool';
import type { ToolStage } from './stage-tool';

const PIN = 3;

describe('laying a face on another', () => {
  const load = vi.fn<() => Promise<ExactBody | null>>();
  let row = PIN;
  let picked: [face: LaidFace, isHeld: boolean][];
  let said: (string | null)[];
  let tool: LayTool;
  const canvas = document.createElement('canvas');
  // Two triangles, each a face; placed 10 mm up.
  const geometry = new THREE.PlaneGeometry();
  geometry.userData.faceGroups = [0, 3, 3, 3];
  const shown = new THREE.Matrix4().makeTranslation(0, 0, 10);
  const body = {
    geometry,
    source: { url: '/shape', node: '1' },
    edgesOfMesh: null,
    placesOf: () => ({ belongs: new THREE.Matrix4(), shown }),
  };

  beforeEach(() => {
    load.mockReset();
    load.mockResolvedValue({
      faces: [
        { kind: 'free', area: 1, surface: 'spline' },
        { kind: 'cylinder', area: 1, at: [1, 2, 3], axis: [0, 0, 1], radius: 4 },
      ],
      edges: [],
    });
    [picked, said, row] = [[], [], PIN];
    tool = new LayTool(
      new ExactShapes(load),
      (of) => of === PIN,
      (...pick) => picked.push(pick),
      (words) => said.push(words),
    );
    const hitUnder = () => ({
      body,
      instance: 0,
      pick: { row, name: '', face: 1, point: [5, 2, 14], normal: [1, 0, 0], isFlat: false },
    });
    tool.attach({ canvas, hitUnder, redraw: () => {} } as unknown as ToolStage);
  });
  const event = new PointerEvent('pointerup');
  /** How many faces are lit: taken, and pointed at. */
  const lit = () => tool.group.children.map(({ children }) => children.length);

  it('gives the face as it is shown, and says whose it is; that of what is held stays lit', async () => {
    tool.click(event);
    await vi.waitFor(() => expect(picked).toHaveLength(1));
    expect(picked[0]).toEqual([
      {
        face: { kind: 'cylinder', area: 1, at: [1, 2, 13], axis: [0, 0, 1], radius: 4 },
        point: [5, 2, 14],
        normal: [1, 0, 0],
      },
      true,
    ]);
    expect(lit()[0]).toBe(1);
    row = 7;
    tool.click(event);
    await vi.waitFor(() => expect(picked).toHaveLength(2));
    expect(picked[1]![1]).toBe(false);
    expect(lit()[0]).toBe(0);
    expect(load).toHaveBeenCalledTimes(1);
    expect(said).toEqual([null, null]);
  });

  it('lights what the pointer is on, and nothing when it is gone', () => {
    tool.move(event);
    expect(lit()).toEqual([0, 1]);
    expect(canvas.style.cursor).toBe('crosshair');
    tool.detach();
    expect(lit()).toEqual([0, 0]);
    expect(canvas.style.cursor).toBe('');
  });

  it('says why nothing can be laid on a body, and asks again at the next click', async () => {
    load.mockRejectedValueOnce(new Error('not prepared'));
    tool.click(event);
    await vi.waitFor(() => expect(said).toHaveLength(1));
    expect(said[0]).toContain('not prepared. Wait');
    expect(picked).toEqual([]);
    tool.click(event);
    await vi.waitFor(() => expect(picked).toHaveLength(1));
  });
});
