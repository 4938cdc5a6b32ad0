import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { write } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
import { MemoryFileSet } from '#core/project/change/memory';
import type { LogEntry } from '#server/projects/projects';
import { operationsStandIn } from '../../testing/operations-stand-in';
import { press, renderPage } from '../../testing/render';
import { ActivityScreen } from './ActivityScreen';

const entry = (id: number, summary: string, changeSet: Partial<LogEntry['changeSet']> | null): LogEntry => ({
  id,
  time: '2026-09-14T08:00:00Z',
  who: 'Ines',
  kind: 'change',
  summary,
  changeSet: changeSet && {
    id: `c${id}`,
    files: 2,
    isUndo: false,
    undone: false,
    made: null,
    rewires: [],
    ...changeSet,
  },
});

const ENTRIES: LogEntry[] = [
  entry(4, 'Undid: Split 3 bodies', { isUndo: true }),
  entry(3, 'Split 3 bodies', { undone: true, made: 'split' }),
  entry(2, 'Repaired 1 link in drive.stp', {
    files: 1,
    made: 'repair',
    rewires: [{ holder: 'drive.stp', written: 'lid.stp', rewritten: 'lid-b.stp' }],
  }),
  entry(1, 'Created the project', null),
];

describe('the activity page', () => {
  it('says how many links were broken at the worst time, where some were', () => {
    const point = (time: string, missing: number) => ({
      time: `2030-05-0${time}T08:00:00Z`,
      links: { sound: 9, behind: 0, missing, ambiguous: 0, loop: 0 },
    });
    const { unmount } = renderPage(
      <ActivityScreen entries={[]} health={[point('1', 0), point('2', 4), point('3', 1)]} />,
    );
    expect(screen.getByRole('figure').textContent).toMatch(/1 broken link of 10 now, 4 on .*2/);
    unmount();
    renderPage(<ActivityScreen entries={[]} health={[point('1', 0), point('2', 0), point('3', 0)]} />);
    expect(screen.queryByRole('figure')).toBeNull();
  });

  it('says who did what, and what it did to the links', () => {
    renderPage(<ActivityScreen health={[]} entries={ENTRIES} />);
    const lines = screen.getAllByRole('listitem').map(({ textContent }) => textContent);
    expect(lines).toHaveLength(4);
    expect(lines[1]).toContain('taken back later');
    expect(lines[2]).toContain('drive.stp: lid.stp → lid-b.stp');
    expect(lines[3]).toContain('Created the project by Ines');
  });

  const takenBack = async () => {
    const files = new MemoryFileSet([['drive.stp', Buffer.from('new')]]);
    const operations = operationsStandIn(files, {
      context: {
        inverseOf: async (id) => ({
          summary: `Undid ${id}`,
          changes: [write('drive.stp', sha256(await files.read('drive.stp')), Buffer.from('old'))],
          rewires: [],
          warnings: [],
        }),
      },
    });
    vi.stubGlobal('fetch', operations.answer);
    return { files, ...operations, ...renderPage(<ActivityScreen health={[]} entries={ENTRIES} />) };
  };

  it('shows what taking something back does before it is done', async () => {
    const { user, files, asked } = await takenBack();
    expect(screen.getAllByRole('button').map(({ textContent }) => textContent)).toEqual([
      'Do it again…',
      'Undo…',
    ]);
    await user.click(screen.getByRole('button', { name: 'Undo…' }));
    expect(screen.getByText(/^Puts 1 file back as it was before, as one change\./)).toBeTruthy();
    expect(await screen.findByText(/1 file gets a new version/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(asked.map(({ intent }) => intent)).toEqual(['plan']);
    await user.click(screen.getByRole('button', { name: 'Undo…' }));
    await press(user, 'Undo it');
    await waitFor(async () => expect(Buffer.from(await files.read('drive.stp')).toString()).toBe('old'));
    expect(asked.at(-1)).toMatchObject({ intent: 'apply', operation: 'undo', choices: { change: 'c2' } });
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Undo it' })).toBeNull());
  });

  it('leads to doing the same again, where an operation did it', () => {
    renderPage(<ActivityScreen health={[]} entries={ENTRIES} />);
    const links = screen.getAllByRole('link', { name: 'Again…' });
    expect(links.map((link) => link.getAttribute('href'))).toEqual([
      '/projects/p/again?change=c3',
      '/projects/p/again?change=c2',
    ]);
  });

  it('lets a viewer read only', () => {
    renderPage(<ActivityScreen health={[]} entries={ENTRIES} />, { context: { mayEdit: false } });
    expect(screen.queryAllByRole('button')).toEqual([]);
    expect(screen.queryAllByRole('link')).toEqual([]);
  });
});
