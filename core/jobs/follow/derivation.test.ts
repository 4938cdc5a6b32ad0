import { describe, expect, it } from 'vitest';
import { planOperation } from '#core/operation';
import { type PlanContext, planningOn } from '#core/planning';
import { writeAssembly } from '#core/product/write-assembly';
import { sha256 } from '#core/project/change/file-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { addSourceLink } from '#core/project/formats/step/source';
import { scanFileSet } from '#core/project/scan/scan';
import { writeBoxPart } from '#core/testing/box-part';
import type { Derivation } from './derivation';
import { followBy } from './operation';
import { SPLIT_AGAIN } from './plan';

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
  const COUNT: Derivation = {
    operation: 'count',
    async remake({ project, draft }, { source, links }) {
      const { sha256: now, scan } = project.files.get(source)!;
      for (const { holder, source: memory } of links) {
        expect(memory!.recipe!.choices).toEqual({ twice: true });
        draft.write(holder, counted(now, 'count', 2 * scan.products[0]!.bodies.length));
      }
      return { words: `${links.length} counted` };
    },
  };

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
      followBy([SPLIT_AGAIN, COUNT]),
      { ...planningOn(project, files) } as unknown as PlanContext,
      { source: 'weld.stp' },
    );
    expect(change.summary).toBe('Followed weld.stp: 1 counted');
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
