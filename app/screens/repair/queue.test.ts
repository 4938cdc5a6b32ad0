import { describe, expect, it } from 'vitest';
import type { BrokenLink } from '#server/views/operations/repair-view';
import { queueEntries } from './queue';

const link = (holder: string, written: string): BrokenLink => ({
  key: `${holder}::${written}`,
  kind: 'component',
  holder,
  written,
  state: 'missing',
  reason: '',
  occurrences: 1,
  wanted: '',
  alike: 1,
});
const QUEUE = [
  link('a.stp', '../frame.stp'),
  link('b.stp', 'lid.stp'),
  link('c.stp', 'old\\Frame.STP'),
  link('d.stp', 'frame.stp'),
];

describe('the queue', () => {
  it('takes links that miss a file of one name together, as they are repaired together', () => {
    expect(queueEntries(QUEUE, null, false).map((entry) => [entry.link.holder, entry.more])).toEqual([
      ['a.stp', 2],
      ['b.stp', 0],
    ]);
  });

  it('lets the link that is looked at speak for its group', () => {
    expect(queueEntries(QUEUE, 'd.stp::frame.stp', false)[0]).toMatchObject({
      link: { holder: 'd.stp' },
      more: 2,
    });
  });

  it('shows each link of a group that is repaired one by one', () => {
    const entries = queueEntries(QUEUE, 'd.stp::frame.stp', true);
    expect(entries.map((entry) => [entry.link.holder, entry.more])).toEqual([
      ['a.stp', 0],
      ['c.stp', 0],
      ['d.stp', 0],
      ['b.stp', 0],
    ]);
  });
});
