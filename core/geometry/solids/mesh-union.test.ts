import { describe, expect, it } from 'vitest';
import { meshVolume } from '#core/geometry/shape/doubt';
import { joinedMesh, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import { IDENTITY, type Matrix4 } from '#core/product/matrix';
import { commonOf } from './common-space';
import { uniteMeshes } from './mesh-union';

/** A box of a size from a corner on; turned out, it is a hollow. */
function box([x, y, z]: readonly number[], size: number, isHollow = false): SolidMesh {
  const positions = Float32Array.from(
    [0, 1, 2, 3, 4, 5, 6, 7].flatMap((n) => [
      x! + (n & 1 ? size : 0),
      y! + (n & 2 ? size : 0),
      z! + (n & 4 ? size : 0),
    ]),
  );
  const sides = [
    0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7,
    5,
  ];
  const triangles = Uint32Array.from(sides);
  return { positions, triangles: isHollow ? triangles.reverse() : triangles };
}

const moved = (x: number): Matrix4 => [1, 0, 0, x, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

describe('meshes that are united', () => {
  it('keep the hollow that a guest stands in, and no other', async () => {
    const hollowed = joinedMesh([box([0, 0, 0], 10), box([1, 1, 1], 3, true), box([6, 6, 6], 2, true)]);
    const filled = await uniteMeshes([hollowed], []);
    expect([filled.solids.length, filled.hollows]).toEqual([1, 2]);
    expect(meshVolume(filled.solids[0]!)).toBeCloseTo(1000, 3);
    const kept = await uniteMeshes([hollowed], [], 0, [[1.5, 1.5, 1.5, 3, 3, 3]]);
    expect([kept.solids.length, kept.hollows]).toEqual([1, 1]);
    expect(meshVolume(kept.solids[0]!)).toBeCloseTo(1000 - 27, 3);
    // What lies apart stays a solid of its own.
    const apart = await uniteMeshes([hollowed, box([50, 0, 0], 5)], [], 0, [[1.5, 1.5, 1.5, 3, 3, 3]]);
    expect(apart.solids.map((mesh) => Math.round(meshVolume(mesh)))).toEqual([973, 125]);
  });
});

describe('space in common', () => {
  it('is found in the pose in which there is most of it, and not where surfaces lie on each other', async () => {
    const meshes = [box([0, 0, 0], 10), box([10, 0, 0], 10)];
    const poses = [0, -1, -4, 5].map((x) => [IDENTITY, moved(x)]);
    expect(await commonOf(meshes, poses.slice(0, 1), 0.2)).toEqual([]);
    const [found, ...more] = await commonOf(meshes, poses, 0.2);
    expect(more).toEqual([]);
    expect(found).toMatchObject({ between: [0, 1], pose: 2 });
    expect(found!.volume).toBeCloseTo(400, 3);
    // A slice that is thinner than both may lie off.
    expect(await commonOf(meshes, [[IDENTITY, moved(-0.1)]], 0.2)).toEqual([]);
  });
});
