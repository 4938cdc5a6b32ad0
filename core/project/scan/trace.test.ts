import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { groupBy } from '#core/multimap';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { gearUnit, testAssembly } from '#core/testing/projects';
import { rootsOf } from './project';
import { scanFileSet } from './scan';
import { rootsReached, type TracedLink, trace } from './trace';

const graphOf = (links: readonly TracedLink[]) => ({
  uses: groupBy(links, ({ holder }) => holder),
  usedBy: groupBy(
    links.filter(({ to }) => to !== null),
    ({ to }) => to!,
  ),
});

describe('following links', () => {
  it('lists what a file uses at any depth, with the way there, and what is missing on it', async () => {
    const project = await scanFileSet(gearUnit());
    const roots = new Set(rootsOf(project));
    const used = trace(project, ['unit.stp'], 'uses', roots);
    expect(used.map(({ path, state, depth, occurrences }) => [path, state, depth, occurrences])).toEqual([
      ['drive/drive.stp', 'sound', 1, 1],
      ['parts/base.stp', 'sound', 1, 1],
      ['../norm/washer.stp', 'ambiguous', 2, 0],
      ['..\\parts\\lid.stp', 'missing', 2, 0],
      ['parts/housing.stp', 'sound', 2, 1],
      ['std/screw-m6.stp', 'sound', 2, 4],
    ]);
    expect(used.at(-1)).toMatchObject({
      through: ['drive/drive.stp'],
      from: 'unit.stp',
      roots: ['unit.stp'],
    });
  });

  it('lists what uses some files, and the root assemblies that it comes to', async () => {
    const project = await scanFileSet(gearUnit());
    const roots = new Set(rootsOf(project));
    const users = trace(project, ['std/screw-m6.stp', 'parts/base.stp'], 'used-in', roots);
    expect(users.map(({ path, depth, through, occurrences }) => [path, depth, through, occurrences])).toEqual(
      [
        ['drive/drive.stp', 1, [], 4],
        ['unit.stp', 1, [], 5],
      ],
    );
    expect(rootsReached(project, ['std/screw-m6.stp'], roots)).toEqual(['unit.stp']);
    expect(rootsReached(project, ['parts/left-over.stp'], roots)).toEqual([]);
  });

  it('counts placings of an assembly inside the file that holds the link', async () => {
    const files = new MemoryFileSet([
      ['top.stp', testAssembly('TOP', [{ written: 'mid.stp', id: 'MID', times: 3 }])],
      ['mid.stp', testAssembly('MID', [{ written: 'part.stp', id: 'PART', times: 2 }])],
      ['part.stp', writeBoxPart({ id: 'PART' })],
    ]);
    const project = await scanFileSet(files);
    const [used] = trace(project, ['top.stp'], 'uses', new Set()).filter(({ path }) => path === 'part.stp');
    expect(used!.occurrences).toBe(6);
  });

  it('agrees with a walk along every single way, in any graph without circles', () => {
    const link = fc.record({
      from: fc.integer({ min: 0, max: 7 }),
      step: fc.integer({ min: 1, max: 4 }),
      occurrences: fc.integer({ min: 1, max: 3 }),
      kind: fc.constantFrom('component' as const, 'source' as const),
      isSound: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(link, { maxLength: 25 }), fc.integer({ min: 0, max: 8 }), (given, start) => {
        const links = given.map(
          ({ from, step, occurrences, kind, isSound }, n): TracedLink => ({
            holder: `f${from}`,
            kind,
            written: isSound ? `f${from + step}` : `gone${n}`,
            to: isSound ? `f${from + step}` : null,
            state: isSound ? 'sound' : 'missing',
            occurrences,
          }),
        );
        const graph = graphOf(links);
        const walk = (path: string, times: number, met: Map<string, number>, steps: number) => {
          for (const { to, kind, occurrences } of graph.uses.get(path) ?? []) {
            if (to === null) continue;
            const below = kind === 'component' ? times * occurrences : 0;
            met.set(to, (met.get(to) ?? 0) + below);
            if (steps < 12) walk(to, below, met, steps + 1);
          }
          return met;
        };
        const naive = walk(`f${start}`, 1, new Map(), 0);
        const found = trace(graph, [`f${start}`], 'uses', new Set());
        expect(
          new Map(found.flatMap((file) => (file.isThere ? [[file.path, file.occurrences]] : []))),
        ).toEqual(naive);
        for (const { path, isThere, occurrences, depth, through } of found) {
          if (!isThere) continue;
          expect(through).toHaveLength(depth - 1);
          const back = trace(graph, [path], 'used-in', new Set()).find((user) => user.path === `f${start}`);
          expect(back).toMatchObject({ occurrences, depth });
        }
      }),
      { numRuns: 150 },
    );
  });

  it('ends in files that lead to each other', () => {
    const links = ['a', 'b', 'c'].map(
      (holder, n): TracedLink => ({
        holder,
        kind: 'component',
        written: 'abc'[(n + 1) % 3]!,
        to: 'abc'[(n + 1) % 3]!,
        state: 'loop',
        occurrences: 1,
      }),
    );
    expect(trace(graphOf(links), ['a'], 'uses', new Set(['b']))).toMatchObject([
      { path: 'b', depth: 1, state: 'loop', occurrences: 0, roots: ['b'] },
      { path: 'c', depth: 2, roots: ['b'] },
    ]);
  });
});
