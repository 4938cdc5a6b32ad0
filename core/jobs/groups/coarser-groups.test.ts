import type { Shape3D } from 'replicad';
import { beforeAll, describe, expect, it } from 'vitest';
import { GROUPS } from '#core/jobs/groups/operation';
import { planOperation } from '#core/operation';
import { kernel } from '#core/testing/kernel';
import { madeAssembly, roundBar, without } from '#core/testing/made-assemblies';
import { testContext } from '#core/testing/plan-context';
import { boxAt, startModelling } from '#core/testing/step-of-shape';

beforeAll(startModelling);

describe('groups', () => {
  it('have sharp edges and plain rings where that is chosen', async () => {
    const base = without(boxAt(80, 60, 10).chamfer(1) as Shape3D, roundBar(10.1, 40, [0, 0, -10]));
    const fins = Array.from({ length: 18 }, (_, n) =>
      boxAt(6, 1.5, 20, [18, 0, 15]).rotate(20 * n, [0, 0, 0], [0, 0, 1]),
    );
    const knob = fins
      .reduce((all, fin) => all.fuse(fin) as Shape3D, roundBar(10, 30))
      .fuse(roundBar(17, 20, [0, 0, 15])) as Shape3D;
    const files = await madeAssembly([
      { name: 'Base', bodies: [base] },
      { name: 'Knob', bodies: [knob] },
    ]);
    const groups = ['Base', 'Knob'].map((name) => ({ name, members: [name] }));
    const made = async (more: object) => {
      const choices = { file: 'top.stp', groups, joints: [], hidden: false, fill: false, ...more };
      const planned = await planOperation(GROUPS, await testContext(files, kernel), choices);
      expect(planned.change.warnings).toEqual([]);
      return planned.preview.made!.after.faces;
    };
    const fine = await made({});
    expect(fine).toBeGreaterThan(60);
    // A block with a bore; a bar and a ring on it.
    expect(await made({ sharpEdges: 1, roundOut: true })).toBeLessThan(15);
  });
});
