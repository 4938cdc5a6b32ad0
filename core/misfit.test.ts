import { describe, expect, it, vi } from 'vitest';
import { z } from 'zod';
import { readChoices } from './choices';
import { firstMisfit, listsIn, MOST_ENTRIES, mostElements } from './misfit';
import { REGISTRY } from './operations';

describe('choices that somebody sends', () => {
  it('have no list in any operation or report that may be endless', () => {
    const endless = REGISTRY.flatMap(({ name, choices }) =>
      listsIn(choices)
        .filter(({ schema }) => mostElements(schema) === Number.POSITIVE_INFINITY)
        .map(({ path }) => name + path),
    );
    expect(endless).toEqual([]);
    // The walk sees lists wherever they stand.
    const schema = z.object({
      a: z.array(z.object({ b: z.array(z.int()).nullable().default(null) })).optional(),
      c: z.record(z.string(), z.union([z.array(z.string()).max(3), z.null()])),
    });
    expect(listsIn(schema).map(({ path, schema }) => [path, mostElements(schema)])).toEqual([
      ['.a', Number.POSITIVE_INFINITY],
      ['.a[].b', Number.POSITIVE_INFINITY],
      ['.c{}', 3],
    ]);
  });

  it('are refused by their number before any of them is looked at', () => {
    const looked = vi.fn(() => true);
    const list = z.object({ list: z.array(z.any().refine(looked)).max(1000).nullable().default(null) });
    expect(() => readChoices('anything', list, { list: Array(1001).fill(0) })).toThrow(
      'list: has 1001 entries, and may have 1000',
    );
    expect(looked).not.toHaveBeenCalled();
    const names = z.object({ names: z.record(z.string(), z.string()) });
    const many = Object.fromEntries(Array.from({ length: MOST_ENTRIES + 1 }, (_, n) => [n, '']));
    expect(() => readChoices('anything', names, { names: many })).toThrow('may have 200000');
  });

  it('are looked at up to the first that is wrong', () => {
    let looked = 0;
    const even = z.number().refine((value) => ++looked > 0 && value % 2 === 0, 'is odd');
    const schema = z.object({ deep: z.array(z.object({ numbers: z.array(even).max(10_000) })).max(10) });
    const asked = { deep: [{ numbers: [2, 4] }, { numbers: [6, 7, ...Array(9000).fill(9)] }] };
    expect(firstMisfit(schema, asked)).toEqual({ path: ['deep', 1, 'numbers', 1], message: 'is odd' });
    expect(looked).toBeLessThan(10);
    expect(() => readChoices('anything', schema, asked)).toThrow('deep.1.numbers.1: is odd');
    expect(readChoices('anything', schema, { deep: [{ numbers: [2] }] })).toEqual({
      deep: [{ numbers: [2] }],
    });
  });

  it('that are all of the wrong kind cost no more than reading them', () => {
    const move = REGISTRY.find(({ name }) => name === 'move')!;
    expect(() => readChoices('move', move.choices, { moves: Array(100_000).fill({}) })).toThrow(
      'moves.0.from',
    );
  });
});
