import { describe, expect, it } from 'vitest';
import { MemoryFileSet } from '#core/project/change/memory';
import { gearUnit, testAssembly } from '#core/testing/projects';
import { linkMap, MOST_NODES_OF_MAP, type WantedMap } from './link-map';
import { scanFileSet } from './scan';

const EVERYTHING: WantedMap = { focus: null, steps: 2, opened: [], closed: [] };

describe('the map of links', () => {
  it('has every file where there are few, and what is missing by its name', async () => {
    const map = linkMap(await scanFileSet(gearUnit()), EVERYTHING);
    expect(map.nodes.map(({ what }) => what).sort()).toEqual([
      ...Array.from({ length: 9 }, () => 'file'),
      'missing',
      'missing',
    ]);
    expect(map.edges).toHaveLength(6);
    expect(map.edges).toContainEqual({
      from: 'drive/drive.stp',
      to: 'missing ..\\parts\\lid.stp',
      kind: 'component',
      state: 'missing',
      count: 1,
    });
  });

  it('is around a file, as far as it is asked to', async () => {
    const project = await scanFileSet(gearUnit());
    const paths = (steps: number) =>
      linkMap(project, { ...EVERYTHING, focus: 'parts/base.stp', steps }).nodes.map(
        ({ path, steps: away }) => [path, away],
      );
    expect(paths(1)).toEqual([
      ['parts/base.stp', 0],
      ['unit.stp', 1],
    ]);
    expect(paths(2)).toContainEqual(['drive/drive.stp', 2]);
    // The drive names two files that are not there.
    expect(paths(2)).toHaveLength(5);
  });

  it('folds thousands of files, keeps broken links in sight, and opens what is asked for', async () => {
    const files: [string, Uint8Array][] = Array.from({ length: 30 }, (_, n) => [
      `unit-${n}/unit.stp`,
      testAssembly(`U${n}`, [{ written: n === 7 ? 'lost.stp' : `part-${n}.stp`, id: 'P' }]),
    ]);
    for (let n = 0; n < 30; n++)
      for (let part = 0; part < 60; part++) files.push([`unit-${n}/part-${part}.stp`, Buffer.from('')]);
    const project = await scanFileSet(new MemoryFileSet(files));
    const map = linkMap(project, EVERYTHING);
    expect(map.files).toBe(30 * 61);
    expect(map.nodes.length).toBeLessThanOrEqual(MOST_NODES_OF_MAP);
    expect(map.nodes.reduce((sum, node) => sum + node.files, 0)).toBe(30 * 61);
    expect(map.nodes.map(({ path }) => path)).toContain('unit-7/unit.stp');
    const opened = linkMap(project, { ...EVERYTHING, opened: ['unit-3'], closed: ['unit-7'] });
    const there = opened.nodes.map(({ path }) => path);
    expect(there).toContain('unit-3/part-5.stp');
    expect(there).toContain('unit-7');
    expect(there).not.toContain('unit-7/unit.stp');
  });

  it('keeps those files of one large folder that have most to do with others', async () => {
    const parts = Array.from({ length: 400 }, (_, n) => `part-${n}.stp`);
    const project = await scanFileSet(
      new MemoryFileSet([
        [
          'top.stp',
          testAssembly(
            'TOP',
            parts.slice(0, 20).map((written, n) => ({ written, id: `P${n}` })),
          ),
        ],
        ...parts.map((path): [string, Uint8Array] => [path, Buffer.from('')]),
      ]),
    );
    const map = linkMap(project, EVERYTHING);
    expect(map.nodes).toHaveLength(101);
    expect(map.nodes.at(-1) ?? map.nodes[0]).toBeDefined();
    const folded = map.nodes.find(({ what }) => what === 'folder')!;
    expect(folded).toMatchObject({ label: 'others in the top folder', files: 301 });
    for (const path of ['top.stp', ...parts.slice(0, 20)])
      expect(map.nodes.some((node) => node.path === path)).toBe(true);
  });
});
