import { beforeAll, describe, expect, it } from 'vitest';
import { OPENING_KINDS } from '#core/geometry/fill/opening-kinds';
import { kernel } from '#core/testing/kernel';
import { madeAssembly, roundBar, without } from '#core/testing/made-assemblies';
import { testContext } from '#core/testing/plan-context';
import { boxAt, startModelling } from '#core/testing/step-of-shape';
import { reduceChoices } from './choices';
import { FilledSpace } from './filled-space';
import { reduceWhole } from './reduce';

beforeAll(startModelling);

describe('the space that was filled', () => {
  it('belongs to the opening whose walls are nearest, however far away their corners are', async () => {
    // A long bore has corners at its ends only; six blind holes beside it have theirs at half its height.
    const holes = [0, 1, 2, 3, 4, 5].map((n) => {
      const angle = (n * Math.PI) / 3;
      return roundBar(3, 60, [26 * Math.cos(angle), 26 * Math.sin(angle), 45]);
    });
    const block = without(boxAt(80, 80, 90), roundBar(20, 100, [0, 0, -5]), ...holes);
    const files = await madeAssembly([{ name: 'Block', bodies: [block] }]);
    const context = await testContext(files, kernel);
    const reduced = await reduceWhole(context, 'top.stp', reduceChoices({ fill: [...OPENING_KINDS] }));
    const space = new FilledSpace(reduced);
    const places = space.placesBeside([-20, -20, 0, 20, 20, 90]);
    const keysAt = (x: number, y: number, z: number) => [...space.openingsAt([x, y, z], places)];
    const [bore] = keysAt(0, 0, 2);
    for (const z of [10, 45, 60, 88])
      for (const x of [-19, -5, 0, 7, 19]) expect([x, z, keysAt(x, 0, z)]).toEqual([x, z, [bore]]);
    expect(keysAt(26, 0, 60)).not.toEqual([bore]);
    expect(keysAt(35, 35, 60)).toEqual([]);
    expect([space.holds([0, 0, 45]), space.holds([0, 0, 91])]).toEqual([true, false]);
  });
});
