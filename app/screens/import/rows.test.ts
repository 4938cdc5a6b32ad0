import { expect, it } from 'vitest';
import { arrivingRows } from './rows';

it('says of a file that is taken in what is the matter with its name', () => {
  const outline = {
    added: ['aux.stp'],
    replaced: [],
    unchanged: 0,
    conflicts: [{ path: 'aux.stp', outcome: 'taken as it is, but it is no name: rename it here' }],
    problems: [],
    verified: [],
    links: { broken: [], mended: [], behind: 0 },
    history: null,
  };
  expect(arrivingRows(outline)).toEqual([
    {
      path: 'aux.stp',
      becomes: 'a new file; taken as it is, but it is no name: rename it here',
      problem: '',
    },
  ]);
});
