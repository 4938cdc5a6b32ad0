import { expect, it } from 'vitest';
import { splitChoices } from '#core/jobs/split/choices';
import { openSource, outlineSplit, planSplit } from '#core/jobs/split/plan';
import { planningOn } from '#core/planning';
import { write } from '#core/project/change/change-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { madeBefore } from './made-before';
import { scanFileSet } from './scan';

const BOXES = [{ name: 'plate' }, { name: 'bar', corner: [30, 0, 0] as const, size: [10, 10, 60] as const }];

it('says what came out of a file by each operation, which of it to open, and what is behind', async () => {
  const files = new MemoryFileSet([['weld.stp', writeBoxPart({ id: 'W', name: 'Weldment', boxes: BOXES })]]);
  const before = await scanFileSet(files);
  expect(madeBefore(before, 'weld.stp')).toEqual([]);
  const outline = outlineSplit(before, await openSource(files, 'weld.stp'), splitChoices(), new Map());
  await files.apply(await planSplit(planningOn(before, files), { outline, choices: splitChoices() }));

  const after = await scanFileSet(files);
  const [made, ...others] = madeBefore(after, 'weld.stp');
  expect(others).toEqual([]);
  expect(made).toMatchObject({ operation: 'split', source: 'weld.stp', behind: 0 });
  expect(made!.files).toHaveLength(3);
  expect(after.files.get(made!.opens)?.scan.role).toBe('assembly');

  const { sha256: base } = after.files.get('weld.stp')!;
  const newer = writeBoxPart({ id: 'W', name: 'Weldment, longer', boxes: BOXES });
  await files.apply({ summary: '', changes: [write('weld.stp', base, newer)], rewires: [], warnings: [] });
  const later = await scanFileSet(files);
  expect(madeBefore(later, 'weld.stp')[0]!.behind).toBe(3);

  // What the manifest says of files for strangers counts with what files say themselves.
  const outside = (sha256: string) => ({
    file: made!.files[1]!,
    made: '2026-01-01T00:00:00Z',
    operation: 'seal',
    choices: {},
    sources: [{ path: 'weld.stp', sha256 }],
  });
  const now = later.files.get('weld.stp')!.sha256;
  expect(madeBefore(later, 'weld.stp', [outside(now), outside(base)])[1]).toMatchObject({
    operation: 'seal',
    opens: made!.files[1]!,
    behind: 1,
  });
  expect(madeBefore(later, made!.files[0]!, [outside(now)])).toEqual([]);
});
