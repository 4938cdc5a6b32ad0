import { beforeAll, describe, expect, it } from 'vitest';
import { EXACT_ASSEMBLIES } from '#core/testing/exact-assemblies';
import { exactFindings } from '#core/testing/exact-findings';
import { kernel } from '#core/testing/kernel';
import { startModelling } from '#core/testing/step-of-shape';

beforeAll(startModelling);

/** One of each kind; `npm run soak` holds all of them against what was made, with many more rays. */
const SOME = ['gear box, tilted', 'ball bearing on a shaft', 'six blind holes'];

describe('what is made lighter is the same from outside, and tells nothing of its inside', () => {
  it.each(SOME)('%s', async (name) => {
    expect(await exactFindings(kernel, EXACT_ASSEMBLIES[name]!(), { rays: 1000 })).toEqual([]);
  });
});
