import { afterAll, expect, it } from 'vitest';
import { write } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
import { MemoryFileSet } from '#core/project/change/memory';
import type { ProjectLink } from '#core/project/scan/project';
import { atOnce } from '#core/steps';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { closeDatabase } from '#server/db/connection';
import { loadProject } from '#server/projects/scan/project-scan';
import { testProject } from '#server/testing';
import { findInProjects, findLinksSteps, readWanted } from './find';

afterAll(closeDatabase);

it('finds files, parts and components by all words that were typed, those first that begin with the first', async () => {
  const { db, project, fileSet } = await testProject(
    new MemoryFileSet([
      ['drive/worm.stp', writeBoxPart({ id: 'W-1', name: 'Worm' })],
      ['drive/big-worm.stp', writeBoxPart({ id: 'W-2', name: 'Large worm' })],
      ['notes/earthworms.txt', Buffer.from('no part')],
      ['drive/gear_50%.stp', writeBoxPart({ id: 'G', name: 'Ring gear' })],
      ['drive/drive.stp', testAssembly('Drive', [{ written: 'worm.stp', id: 'W-1' }])],
    ]),
  );
  await loadProject(db, project);
  const here = { id: project, name: 'Here' };
  const find = async (typed: string) =>
    (await findInProjects(db, [here], typed, project)).map(({ what, name }) => `${what} ${name}`);
  expect(await find('worm')).toEqual([
    'file worm.stp',
    'file big-worm.stp',
    'file earthworms.txt',
    'part Worm',
    'part Large worm',
  ]);
  expect(await find('WORM drive')).toEqual(['file worm.stp', 'file big-worm.stp']);
  expect(await find('w-2')).toEqual(['part Large worm']);
  expect((await find('assembly')).filter((one) => one.startsWith('file'))).toEqual(['file drive.stp']);
  // What means something to a query is a letter like others.
  expect(await find('_50%')).toEqual(['file gear_50%.stp']);
  expect(await find('%')).toEqual(['file gear_50%.stp']);
  expect(await find('\\')).toEqual([]);
  expect(await find("'; drop table files; --")).toEqual([]);
  expect(await find('worm <10b')).toEqual(['file earthworms.txt']);
  expect(await find('>1gb')).toEqual([]);
  expect(await find('  ')).toEqual([]);
  expect(await find('nothing like it')).toEqual([]);

  // What is no longer a project's is not found in it.
  await fileSet.applyAs({
    summary: 'Another worm',
    changes: [
      write(
        'drive/worm.stp',
        sha256(await fileSet.read('drive/worm.stp')),
        writeBoxPart({ id: 'S', name: 'Snail' }),
      ),
    ],
    rewires: [],
    warnings: [],
  });
  await loadProject(db, project);
  expect(await find('snail')).toEqual(['part Snail']);
  expect(await find('w-1')).not.toContain('part Worm');

  // In another project only with its name.
  const other = await testProject(
    new MemoryFileSet([['x/worm-2.stp', writeBoxPart({ id: 'X', name: 'X' })]]),
  );
  const both = await findInProjects(db, [here, { id: other.project, name: 'There' }], 'worm', project);
  expect(both.filter(({ project: elsewhere }) => elsewhere)).toEqual([
    {
      what: 'file',
      name: 'worm-2.stp',
      path: 'x/worm-2.stp',
      where: 'x',
      project: { id: other.project, name: 'There' },
    },
  ]);
});

it('finds links by what they say, broken ones first', () => {
  const link = { kind: 'component', holder: 'drive/drive.stp', state: 'sound' } as const;
  const links = [
    { ...link, written: 'worm.stp', to: 'drive/worm.stp' },
    { ...link, written: 'gear.stp', to: null, state: 'missing' as const },
  ].map((one): ProjectLink => ({ ...one, reason: '', occurrences: 1, definitions: [], rivals: [] }));
  const find = (typed: string) =>
    atOnce(findLinksSteps({ links }, typed)).map(({ name, broken }) => [name, broken]);
  expect(find('stp')).toEqual([
    ['gear.stp', 'drive/drive.stp::gear.stp'],
    ['worm.stp', undefined],
  ]);
  expect(find('missing')).toEqual([['gear.stp', 'drive/drive.stp::gear.stp']]);
  expect(find('drive.stp')).toEqual([]);
  expect(find('drive worm')).toEqual([['worm.stp', undefined]]);
});

it('reads sizes as the filter of a table does', () => {
  expect(readWanted('Worm >1.5MB <2gb')).toEqual({ words: ['worm'], over: 1.5e6, under: 2e9 });
  expect(readWanted('>mb')).toEqual({ words: ['>mb'] });
});
