import { describe, expect, it } from 'vitest';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { explainTogether, pathAskedFor, relocated } from './moved-folder';
import { brokenLinks } from './plan';

const part = (id: string) => writeBoxPart({ id, name: id });
/** An assembly in `unit/` whose links lead into a folder that is not there. */
const moved = () =>
  scanFileSet(
    new MemoryFileSet([
      [
        'unit/top.stp',
        testAssembly('TOP', [
          { id: 'A', written: '../old/parts/a.stp' },
          { id: 'B', written: '..\\OLD\\Parts\\b.stp' },
          { id: 'C', written: '../old/parts/gone.stp' },
          { id: 'D', written: '../other/d.stp' },
        ]),
      ],
      ['parts/a.stp', part('X1')],
      ['parts/B.STP', part('X2')],
      ['copies/a.stp', part('X3')],
      ['copies/b.stp', part('X4')],
    ]),
  );

describe('a folder that has moved', () => {
  it('tells which file each link means that leads into it, and which is not there', async () => {
    const project = await moved();
    const { targets, left } = relocated(project, { from: 'old/parts', to: 'parts' });
    expect([...targets].map(([{ written }, to]) => [written, to])).toEqual([
      ['../old/parts/a.stp', 'parts/a.stp'],
      ['..\\OLD\\Parts\\b.stp', 'parts/B.STP'],
    ]);
    expect(left.map(({ written }) => written)).toEqual(['../old/parts/gone.stp']);
    const above = relocated(project, { from: 'old/', to: '' });
    expect([...above.targets.values()]).toEqual(['parts/a.stp', 'parts/B.STP']);
  });

  it('says so where no link leads into it', async () => {
    const project = await moved();
    expect(() => relocated(project, { from: 'ol', to: 'parts' })).toThrow('No broken link leads into ol.');
  });

  it('never leads files to each other in a loop', async () => {
    const files = new MemoryFileSet([
      ['top.stp', testAssembly('TOP', [{ id: 'SUB', written: 'gone/deep/sub.stp' }])],
      ['x/sub.stp', testAssembly('SUB', [{ id: 'TOP', written: 'gone/deep/top.stp' }])],
    ]);
    const project = await scanFileSet(files);
    const link = brokenLinks(project).find(({ holder }) => holder === 'x/sub.stp');
    expect(link?.state).toBe('loop');
    expect(relocated(project, { from: 'x/gone/deep', to: '' }).left).toEqual([link]);
  });
});

describe('what explains several links', () => {
  const links = [
    { holder: 'unit/top.stp', written: '../old/parts/a.stp' },
    { holder: 'unit/top.stp', written: '../old/parts/b.stp' },
    { holder: 'unit/top.stp', written: 'lid.stp' },
    { holder: 'unit/base.stp', written: 'lid.stp' },
    { holder: 'unit/base.stp', written: 'D:\\work\\c.stp' },
    { holder: 'unit/base.stp', written: 'alone.stp' },
  ];

  it('is a folder that moved, or a file that was renamed; one link alone is explained by nothing', () => {
    expect(pathAskedFor(links[4]!)).toBe('D:/work/c.stp');
    expect(
      explainTogether(links, [
        'parts/a.stp',
        'parts/b.stp',
        'unit/lid_rev-b.stp',
        'unit/lid_rev-b.stp',
        null,
        'z.stp',
      ]),
    ).toEqual([
      { what: { from: 'old/parts', to: 'parts' }, links: [0, 1] },
      { what: { file: 'unit/lid_rev-b.stp', asked: 'lid.stp' }, links: [2, 3] },
    ]);
  });

  it('is the file, where one file is all that has moved', () => {
    expect(explainTogether(links.slice(2, 4), ['new/lid.stp', 'new/lid.stp'])).toEqual([
      { what: { file: 'new/lid.stp', asked: 'lid.stp' }, links: [0, 1] },
    ]);
  });
});
