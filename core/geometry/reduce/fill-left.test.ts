import { beforeAll, expect, it } from 'vitest';
import type { BodyShape } from '#core/geometry/shape/body-shape';
import type { Kernel } from '#core/geometry/shape/kernel';
import { LITE } from '#core/jobs/lite/operation';
import { planOperation } from '#core/operation';
import { kernel } from '#core/testing/kernel';
import { madeAssembly, roundBar, without } from '#core/testing/made-assemblies';
import { testContext } from '#core/testing/plan-context';
import { boxAt, startModelling } from '#core/testing/step-of-shape';

beforeAll(startModelling);

it('what cannot be filled stays open, and is named; all else is filled, and what lies in it', async () => {
  const plate = without(
    boxAt(100, 60, 20),
    boxAt(40, 40, 8, [-20, 0, 12]),
    ...[-30, -10].map((x) => roundBar(4, 40, [x, 0, -10])),
    ...[20, 30, 40].map((x) => roundBar(2, 40, [x, 0, -10])),
  );
  const files = await madeAssembly([{ name: 'Plate', bodies: [plate] }]);
  // A kernel that finds fault with everything in which the large pocket is filled.
  const most = 100 * 60 * 20 - 40 * 40 * 8 + 100;
  const refuse = (shape: BodyShape): BodyShape =>
    'facts' in shape && shape.isValid && shape.facts.volume > most ? { ...shape, isValid: false } : shape;
  const picky = new Proxy(kernel, {
    get: (target, name) =>
      name === 'shapeBodies'
        ? async (...given: Parameters<Kernel['shapeBodies']>) =>
            (await target.shapeBodies(...given)).map(refuse)
        : Reflect.get(target, name),
  });
  const { preview, change } = await planOperation(LITE, await testContext(files, picky), {
    file: 'top.stp',
    fill: ['hole', 'pocket'],
  });
  expect(preview.report.removed).toMatchObject({ holes: 5, pockets: 0 });
  expect(preview.report.volume.after).toBeCloseTo(100 * 60 * 20 - 40 * 40 * 8, 3);
  expect(change.warnings).toEqual([
    expect.stringMatching(/would not stay whole with 1 opening of it filled. It stays open/),
  ]);
});
