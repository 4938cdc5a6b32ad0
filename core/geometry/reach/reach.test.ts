import { describe, expect, it } from 'vitest';
import { BitGrid, floodFromRim } from './bit-grid';
import { radiusOfSteps } from './grid';

describe('growing and flooding cubes', () => {
  it('grows like a loop over all neighbours does', () => {
    const random = randomNumbers(7);
    const grid = new BitGrid(45, 7, 6);
    for (let n = 0; n < 60; n++)
      grid.set(Math.floor(random() * 45), Math.floor(random() * 7), Math.floor(random() * 6));
    const [sides, cubes] = [grid.copy(), grid.copy()];
    sides.growBySides();
    cubes.growByCubes();
    eachCube(grid, (x, y, z) => {
      let [bySide, byCube] = [false, false];
      for (const dx of [-1, 0, 1])
        for (const dy of [-1, 0, 1])
          for (const dz of [-1, 0, 1]) {
            if (!grid.has(x + dx, y + dy, z + dz)) continue;
            byCube = true;
            if (Math.abs(dx) + Math.abs(dy) + Math.abs(dz) <= 1) bySide = true;
          }
      expect([x, y, z, sides.has(x, y, z), cubes.has(x, y, z)]).toEqual([x, y, z, bySide, byCube]);
    });
  });

  it('floods like a search cube by cube does', () => {
    const random = randomNumbers(3);
    const walls = new BitGrid(70, 9, 8);
    eachCube(walls, (x, y, z) => {
      const isRim = x === 0 || y === 0 || z === 0 || x === 69 || y === 8 || z === 7;
      if (!isRim && random() < 0.45) walls.set(x, y, z);
    });
    const flood = floodFromRim(walls);
    const wet = new Set<string>(['0 0 0']);
    for (const key of wet) {
      const [x, y, z] = key.split(' ').map(Number) as [number, number, number];
      for (const [dx, dy, dz] of [
        [1, 0, 0],
        [-1, 0, 0],
        [0, 1, 0],
        [0, -1, 0],
        [0, 0, 1],
        [0, 0, -1],
      ] as const) {
        const [a, b, c] = [x + dx, y + dy, z + dz];
        const isIn = a >= 0 && b >= 0 && c >= 0 && a < 70 && b < 9 && c < 8;
        if (isIn && !walls.has(a, b, c)) wet.add(`${a} ${b} ${c}`);
      }
    }
    eachCube(walls, (x, y, z) =>
      expect([x, y, z, flood.has(x, y, z)]).toEqual([x, y, z, wet.has(`${x} ${y} ${z}`)]),
    );
    expect(flood.count()).toBe(wet.size);
  });

  it('keeps every ball of its radius out, wherever its middle lies in a cube', () => {
    const passed: number[][] = [];
    for (let steps = 1; steps <= 8; steps++) {
      const size = 6 * steps + 5;
      const middle = 3 * steps + 2;
      const grown = new BitGrid(size, size, size);
      grown.set(middle, middle, middle);
      for (let n = 0; n < steps; n++) {
        grown.growBySides();
        grown.growByCubes();
      }
      // A wall at p from the centre of a free cube marks the cube that p rounds to; grown, it must cover the free one.
      const radius = Math.hypot(radiusOfSteps(steps), 0.5);
      const random = randomNumbers(steps);
      for (let n = 0; n < 3000; n++) {
        const direction = [0, 0, 0].map(() => random() - 0.5);
        const length = Math.hypot(...direction);
        const cube = direction.map((value) => Math.floor((value / length) * radius * 0.99999 + 0.5));
        if (!grown.has(middle + cube[0]!, middle + cube[1]!, middle + cube[2]!))
          passed.push([steps, ...cube]);
      }
    }
    expect(passed).toEqual([]);
  });

  it('never floods through a wall when the ball is drawn back', () => {
    const walls = new BitGrid(60, 60, 60);
    // A closed box of walls one cube thick.
    for (let a = 20; a < 40; a++)
      for (let b = 20; b < 40; b++)
        for (const c of [20, 39]) {
          walls.set(a, b, c);
          walls.set(a, c, b);
          walls.set(c, a, b);
        }
    const grown = walls.copy();
    for (let n = 0; n < 4; n++) {
      grown.growBySides();
      grown.growByCubes();
    }
    const flood = floodFromRim(grown);
    for (let n = 0; n < 4; n++) {
      flood.growBySides();
      flood.growByCubes();
    }
    const wrong: number[][] = [];
    eachCube(walls, (x, y, z) => {
      const isInside = [x, y, z].every((value) => value >= 20 && value < 40);
      if (flood.has(x, y, z) === isInside) wrong.push([x, y, z]);
    });
    expect(wrong).toEqual([]);
  });
});

function eachCube(grid: BitGrid, visit: (x: number, y: number, z: number) => void): void {
  for (let z = 0; z < grid.nz; z++)
    for (let y = 0; y < grid.ny; y++) for (let x = 0; x < grid.nx; x++) visit(x, y, z);
}

/** Numbers from 0 to 1, the same for the same seed. */
function randomNumbers(seed: number): () => number {
  let state = seed * 2654435761;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}
