import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { LogEntry } from '#server/projects/projects';
import { renderPage } from '../../testing/render';
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
    rewires: [],
    ...changeSet,
  },
});

const ENTRIES: LogEntry[] = [
  entry(4, 'Undid: Split 3 bodies', { isUndo: true }),
  entry(3, 'Split 3 bodies', { undone: true }),
  entry(2, 'Repaired 1 link in drive.stp', {
    files: 1,
    rewires: [{ holder: 'drive.stp', written: 'lid.stp', rewritten: 'lid-b.stp' }],
  }),
  entry(1, 'Created the project', null),
];

describe('the activity page', () => {
  it('says who did what, and what it did to the links', () => {
    renderPage(<ActivityScreen entries={ENTRIES} />);
    const lines = screen.getAllByRole('listitem').map(({ textContent }) => textContent);
    expect(lines).toHaveLength(4);
    expect(lines[1]).toContain('taken back later');
    expect(lines[2]).toContain('drive.stp: lid.stp → lid-b.stp');
    expect(lines[3]).toContain('Created the project by Ines');
  });

  it('asks before it takes something back, and says what that does', async () => {
    const sent: unknown[] = [];
    const { user } = renderPage(<ActivityScreen entries={ENTRIES} />, {
      action: (form) => sent.push(form),
    });
    expect(screen.getAllByRole('button').map(({ textContent }) => textContent)).toEqual([
      'Do it again…',
      'Undo…',
    ]);
    await user.click(screen.getByRole('button', { name: 'Undo…' }));
    expect(screen.getByText(/^Puts 1 file back as it was before, as one change\./)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Leave it' }));
    expect(sent).toEqual([]);
    await user.click(screen.getByRole('button', { name: 'Undo…' }));
    await user.click(screen.getByRole('button', { name: 'Undo it' }));
    await waitFor(() => expect(sent).toEqual([{ changeSet: 'c2' }]));
  });

  it('lets a viewer read only, and shows what went wrong', () => {
    renderPage(<ActivityScreen entries={ENTRIES} error="drive.stp was changed since." />, {
      context: { mayEdit: false },
    });
    expect(screen.queryAllByRole('button')).toEqual([]);
    expect(screen.getByRole('alert').textContent).toBe('drive.stp was changed since.');
  });
});
