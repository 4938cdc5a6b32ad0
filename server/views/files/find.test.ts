import { expect, it } from 'vitest';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { atOnce } from '#core/steps';
import { writeBoxPart } from '#core/testing/box-part';
import { findSteps } from './find';

it('finds files and components by all words that were typed, those first that begin with the first', async () => {
  const project = await scanFileSet(
    new MemoryFileSet([
      ['drive/worm.stp', writeBoxPart({ id: 'W-1', name: 'Worm' })],
      ['drive/big-worm.stp', writeBoxPart({ id: 'W-2', name: 'Large worm' })],
      ['notes/earthworms.txt', Buffer.from('no part')],
      ['drive/gear.stp', writeBoxPart({ id: 'G', name: 'Ring gear' })],
    ]),
  );
  const find = (typed: string) =>
    atOnce(findSteps(project, typed)).map(({ what, name }) => `${what} ${name}`);
  expect(find('worm')).toEqual([
    'file worm.stp',
    'file big-worm.stp',
    'file earthworms.txt',
    'component Worm',
    'component Large worm',
  ]);
  expect(find('WORM drive')).toEqual(['file worm.stp', 'file big-worm.stp']);
  expect(find('w-2')).toEqual(['component Large worm']);
  expect(find('  ')).toEqual([]);
  expect(find('nothing like it')).toEqual([]);
});
