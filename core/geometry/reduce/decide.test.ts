import { drawCircle, type Shape3D } from 'replicad';
import { beforeAll, describe, expect, it } from 'vitest';
import { LITE } from '#core/jobs/lite/operation';
import { planOperation } from '#core/operation';
import { kernel } from '#core/testing/kernel';
import { madeAssembly, roundBar } from '#core/testing/made-assemblies';
import { testContext } from '#core/testing/plan-context';
import { boxAt, startModelling } from '#core/testing/step-of-shape';

beforeAll(startModelling);

describe('what is left out', () => {
  it('is what is long and thin, by rule, unless it is kept', async () => {
    const wire = drawCircle(1).translate(40, 0).sketchOnPlane('XZ').revolve([0, 0, 1]) as Shape3D;
    const files = await madeAssembly([
      { name: 'Base', bodies: [boxAt(100, 100, 10)] },
      { name: 'Cable', bodies: [wire] },
      { name: 'Pin', bodies: [roundBar(2, 60, [20, 0, 10])] },
    ]);
    const plan = async (more: object) => {
      const context = await testContext(files, kernel);
      const { preview } = await planOperation(LITE, context, { file: 'top.stp', slender: 50, ...more });
      return preview;
    };
    const { report, steps } = await plan({});
    expect(report.removed.slender).toEqual(['Cable']);
    expect(report.after).toMatchObject({ occurrences: 2, bodies: 2 });
    expect(steps.find(({ step }) => step === 'slender')).toMatchObject({ occurrences: 1, bodies: 1 });
    expect((await plan({ keep: ['Cable'] })).report.after.occurrences).toBe(3);
    expect((await plan({ off: ['slender'] })).report.after.bodies).toBe(3);
  });
});
