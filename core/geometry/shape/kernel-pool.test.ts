import { describe, expect, it } from 'vitest';
import type { BodyShape } from './body-shape';
import type { Kernel } from './kernel';
import { KernelPool } from './kernel-pool';

/** A kernel that answers when it is told to. */
function slowKernel() {
  const asked: ((shapes: BodyShape[]) => void)[] = [];
  let isClosed = false;
  const kernel = {
    version: '',
    shapeBodies: () => new Promise<BodyShape[]>((resolve) => asked.push(resolve)),
    run: async () => {
      throw new Error('broken');
    },
    close: async () => {
      isClosed = true;
    },
  } as unknown as Kernel;
  return { kernel, asked, isClosed: () => isClosed };
}

describe('several kernels', () => {
  it('are asked in turn: the one that has least to do', async () => {
    const [one, other] = [slowKernel(), slowKernel()];
    const pool = new KernelPool([one.kernel, other.kernel]);
    const ask = () => pool.shapeBodies(new Uint8Array(), []);
    const first = ask();
    void ask();
    void ask();
    expect([one.asked.length, other.asked.length]).toEqual([2, 1]);
    one.asked[0]!([]);
    expect(await first).toEqual([]);
    // What fails counts as done, too.
    await expect(pool.run('meshSolids', { step: new Uint8Array(), chord: 1 })).rejects.toThrow('broken');
    void ask();
    void ask();
    expect([one.asked.length, other.asked.length]).toEqual([3, 2]);
    await pool.close();
    expect([one.isClosed(), other.isClosed()]).toEqual([true, true]);
  });
});
