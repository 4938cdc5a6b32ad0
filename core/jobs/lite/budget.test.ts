import { describe, expect, it } from 'vitest';
import { planOperation } from '#core/operation';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { kernel } from '#core/testing/kernel';
import { testContext } from '#core/testing/plan-context';
import { testAssembly } from '#core/testing/projects';
import type { Budget } from './choices';
import { LITE } from './operation';

type Triple = [number, number, number];
const box = (id: string, size: Triple, corner: Triple): [string, Uint8Array] => [
  `${id.toLowerCase()}.stp`,
  writeBoxPart({ id, boxes: [{ name: id, size, corner }] }),
];

/** A plate, and beside it on top a block of 20 %, a peg of 8 % and a dot of 2 % of its size. */
const FILES = new MemoryFileSet([
  [
    'top.stp',
    testAssembly(
      'TOP',
      ['PLATE', 'BLOCK', 'PEG', 'DOT'].map((id) => ({ written: `${id.toLowerCase()}.stp`, id })),
    ),
  ],
  box('PLATE', [100, 100, 10], [0, 0, 0]),
  box('BLOCK', [16, 16, 16], [10, 10, 10]),
  box('PEG', [6, 6, 6], [50, 50, 10]),
  box('DOT', [1.6, 1.6, 1.6], [80, 80, 10]),
]);
const known = new Map<string, Promise<unknown>>();

async function within(budget: Budget, more: object = {}) {
  const context = await testContext(FILES, kernel, known);
  const planned = await planOperation(LITE, context, { file: 'top.stp', budget, ...more });
  return { ...planned, after: planned.preview.report.after, found: planned.preview.found! };
}

describe('a budget', () => {
  it('is reached by the mildest choices that do, which are what is made', async () => {
    const { found, after, change, hindrance } = await within({ what: 'faces', most: 18 });
    expect(found).toMatchObject({ isReached: true, choices: { smallerThan: 2, budget: null } });
    expect([after.faces, after.bodies, hindrance]).toEqual([18, 3, undefined]);
    // What was tried on the way left nothing on the draft.
    expect(change.changes.map(({ path }) => path)).toEqual(['top-lite.stp']);
    const made = found.steps.flatMap(({ made: amount }) => amount ?? []);
    expect(made.length).toBeLessThanOrEqual(6);
    expect(made.length).toBeGreaterThan(1);
    // What is reckoned is what comes out where nothing is filled.
    for (const { reckoned, made: amount } of found.steps)
      if (amount) expect([reckoned.faces, reckoned.triangles]).toEqual([amount.faces, amount.triangles]);
  });

  it('leaves choices as they are that reach it already', async () => {
    const { found } = await within({ what: 'triangles', most: 48 });
    expect(found).toMatchObject({ isReached: true, choices: { smallerThan: 0, hidden: false, fill: [] } });
  });

  it('is looked for in bytes, too, and never gives away what stays', async () => {
    const whole = await within({ what: 'bytes', most: 1e9 });
    const less = await within({ what: 'bytes', most: whole.after.bytes - 1000 });
    expect(less.found.isReached).toBe(true);
    expect(less.after.bytes).toBeLessThanOrEqual(whole.after.bytes - 1000);
    const kept = await within({ what: 'faces', most: 12 }, { keep: ['DOT 1'] });
    expect([kept.after.faces, kept.found.choices.smallerThan]).toEqual([12, 20]);
  });

  it('says what it comes to at least where nothing reaches it', async () => {
    const { found, hindrance, after } = await within({ what: 'faces', most: 5 });
    expect(found.isReached).toBe(false);
    expect(after.faces).toBe(6);
    expect(hindrance).toContain('It comes to 6 faces at least, and 5 faces were asked for.');
  });
});
