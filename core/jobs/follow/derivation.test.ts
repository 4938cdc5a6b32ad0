import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { operation, planOperation } from '#core/operation';
import { type PlanContext, planningOn } from '#core/planning';
import { addSourceLink } from '#core/product/source/tie';
import { writeAssembly } from '#core/product/write-assembly';
import { sha256 } from '#core/project/change/file-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { writeBoxPart } from '#core/testing/box-part';
import { followBy } from './operation';

/** A part of so many bodies. */
const weld = (count: number) =>
  writeBoxPart({
    id: 'W',
    boxes: Array.from({ length: count }, (_, n) => ({ name: `bar ${n}`, corner: [n * 20, 0, 0] as const })),
  });

describe('files that something else made from a source', () => {
  /** A file that says it was made from `weld.stp` by some operation, and holds how many bodies that had. */
  const counted = (sha: string, made: string, count: number) =>
    writeAssembly({
      id: 'C',
      name: `Counted ${count}`,
      fileName: 'c.stp',
      timeStamp: '',
      components: [],
      also: (builder, definition) =>
        addSourceLink(builder, definition, 'weld.stp', {
          relation: 'count',
          sha256: sha,
          bodies: [],
          recipe: { operation: made, choices: { twice: true } },
        }),
    });
  const described = {
    name: 'count',
    title: 'Count',
    purpose: 'Count.',
    place: 'make',
    page: 'count',
    role: 'editor',
    accepts: { what: 'file' },
    cost: 'quick',
  } as const;
  /** Written by the same plan each time: a file that is made again keeps its place. */
  const COUNT = operation({
    ...described,
    choices: z.object({ file: z.string(), twice: z.boolean().default(false) }),
    async plan({ project, draft, remadeFile = 'count.stp' }, { file, twice }) {
      const { sha256: now, scan } = project.files.get(file)!;
      draft.write(remadeFile, counted(now, 'count', (twice ? 2 : 1) * scan.products[0]!.bodies.length));
      return { change: await draft.finish('Counted'), preview: null };
    },
    madeAgain: { what: ['count', 'counts'] },
  });

  it('are behind like any other, and made again by their recipe; what nobody can make is said and left', async () => {
    const older = weld(5);
    const files = new MemoryFileSet([
      ['weld.stp', weld(4)],
      ['c.stp', counted(sha256(older), 'count', 10)],
      ['d.stp', counted(sha256(older), 'engrave', 10)],
    ]);
    const project = await scanFileSet(files);
    expect(project.links.map(({ state }) => state)).toEqual(['behind', 'behind']);
    const { change, preview } = await planOperation(
      followBy((name) => (name === 'count' ? COUNT : undefined)),
      { ...planningOn(project, files) } as unknown as PlanContext,
      { source: 'weld.stp' },
    );
    expect(change.summary).toBe('Brought up to date with weld.stp: 1 count made again');
    expect(change.warnings).toEqual([
      'd.stp was made by “engrave”, which cannot be done again here. It stays as it is.',
    ]);
    expect(preview).toBeNull();
    await files.apply(change);
    const after = await scanFileSet(files);
    expect(after.links.map(({ holder, state }) => [holder, state])).toEqual([
      ['c.stp', 'sound'],
      ['d.stp', 'behind'],
    ]);
    expect(after.files.get('c.stp')!.scan.products[0]!.name).toBe('Counted 8');
  });
});
