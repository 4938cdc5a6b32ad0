import { describe, expect, it } from 'vitest';
import { IDENTITY, type Matrix4, placementFromAxes } from '#core/product/matrix';
import { packGltf, unpackGltf } from './gltf';
import { drawPortrait, type PortraitBody } from './portrait';

const CORNERS = Array.from({ length: 8 }, (_, n) => [n & 1 ? 10 : 0, n & 2 ? 10 : 0, n & 4 ? 10 : 0]);
const QUADS = [
  [0, 2, 3, 1],
  [4, 5, 7, 6],
  [0, 1, 5, 4],
  [2, 6, 7, 3],
  [0, 4, 6, 2],
  [1, 3, 7, 5],
];
const CUBE = {
  positions: Float32Array.from(CORNERS.flat()),
  triangles: Uint32Array.from(QUADS.flatMap(([a, b, c, d]) => [a!, b!, c!, a!, c!, d!])),
  normals: new Float32Array(24),
  faceGroups: Uint32Array.of(0, 36),
  edges: new Float32Array(),
  chord: 0.01,
};
const SIZE = { width: 60, height: 40 };
const bodyOf = async (colour: PortraitBody['colour'], ...placements: Matrix4[]): Promise<PortraitBody> => ({
  geometry: (await unpackGltf(await packGltf([{ body: 7, mesh: CUBE }]))).get(7)!,
  colour,
  placements,
});
const pixelOf = (picture: Uint8Array, x: number, y: number) => [
  ...picture.subarray(4 * (y * SIZE.width + x), 4 * (y * SIZE.width + x) + 4),
];

describe('a portrait', () => {
  it('shows a body in the middle, clear around it, its faces differently lit', async () => {
    const picture = drawPortrait([await bodyOf([200, 100, 0], IDENTITY)], SIZE);
    expect(picture.length).toBe(4 * 60 * 40);
    expect(pixelOf(picture, 0, 0)[3]).toBe(0);
    expect(pixelOf(picture, 30, 20)[3]).toBe(255);
    const reds = new Set(
      Array.from({ length: 60 * 40 }, (_, n) => picture[4 * n + 3] === 255 && picture[4 * n]),
    );
    reds.delete(false);
    // Top, front and right; and what lies on the border between two of them.
    expect(reds.size).toBeGreaterThanOrEqual(3);
    for (const [n, value] of [...picture].entries()) if (n % 4 === 2) expect(value).toBe(0);
  });

  it('fills the height, and shows what is nearer before what is behind', async () => {
    const red = await bodyOf([255, 0, 0], IDENTITY);
    const green = await bodyOf([0, 255, 0], placementFromAxes([0, 30, 0]));
    for (const bodies of [
      [red, green],
      [green, red],
    ]) {
      const picture = drawPortrait(bodies, SIZE);
      const rows = Array.from({ length: 40 }, (_, y) =>
        Array.from({ length: 60 }, (_, x) => pixelOf(picture, x, y)[3]).some((a) => a! > 0),
      );
      const columns = Array.from({ length: 60 }, (_, x) =>
        Array.from({ length: 40 }, (_, y) => pixelOf(picture, x, y)[3]).some((a) => a! > 0),
      );
      expect(Math.max(rows.filter(Boolean).length / 40, columns.filter(Boolean).length / 60)).toBeGreaterThan(
        0.85,
      );
    }
    // Right behind the red one: only red is seen.
    const behind = await bodyOf([0, 255, 0], placementFromAxes([-8.2, 10, -5.5]));
    const covered = drawPortrait([behind, red], SIZE);
    const middle = pixelOf(covered, 30, 20);
    expect(middle[0]).toBeGreaterThan(middle[1]!);
  });

  it('of nothing is clear', () => {
    expect(drawPortrait([], SIZE).every((value) => value === 0)).toBe(true);
  });
});
