import { describe, expect, it } from 'vitest';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { atOnce } from '#core/steps';
import { boltedUnit } from '#core/testing/bolted-unit';
import { testAssembly } from '#core/testing/projects';
import { arrangeViewSteps } from './arrange-view';

const TOP = 'unit/top.stp';

/** The page of the unit, where another assembly places it so often. */
async function viewOf(times: number) {
  const components = times === 0 ? [] : [{ id: 'TOP', written: TOP, times }];
  const files = new MemoryFileSet([...boltedUnit(), ['all.stp', testAssembly('ALL', components)]]);
  const project = await scanFileSet(files);
  const all = project.files.get('all.stp')!.scan.products.find(({ id }) => id === 'ALL')!;
  return { view: atOnce(arrangeViewSteps(project, new Map(), 'p', TOP)), all };
}

describe('what can be arranged in an assembly', () => {
  it('stands there level by level, each occurrence once', async () => {
    const { view } = await viewOf(0);
    const { occurrences, assemblies } = view;
    expect(occurrences.map(({ name, depth, file }) => [depth, name, file])).toEqual([
      [0, 'Plate 1', null],
      [0, 'Bolt 2', null],
      [1, 'Pin 1', null],
      [1, 'Nut 2', null],
      [1, 'Washer 3', 'std/washer.stp'],
      [0, 'Bolt 3', null],
      [0, 'Frame 4', null],
      [1, 'Nut 1', null],
    ]);
    expect(assemblies.map(({ name, placed }) => [name, placed]).sort()).toEqual([
      ['Bolt', 2],
      ['Frame', 1],
      ['TOP', 1],
    ]);
  });

  it('shows elsewhere, too, where the assembly is placed more than once', async () => {
    expect((await viewOf(0)).view.shows).toBeUndefined();
    expect((await viewOf(1)).view.shows).toBeUndefined();
    const { view, all } = await viewOf(3);
    expect(view.shows).toEqual({ places: 3, in: { file: 'all.stp', parent: all.definition } });
  });
});
