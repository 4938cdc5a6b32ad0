import { screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { renderPage } from '../../testing/render';
import { ProjectsScreen } from './ProjectsScreen';

const PROJECT = {
  id: 'p1',
  name: 'HX-12',
  description: '',
  role: 'owner',
  changed: '2026-11-20T08:00:00Z',
  isArchived: false,
  facts: null,
  trouble: null,
};
const PAGE = {
  user: { name: 'Ines' },
  projects: [PROJECT, { ...PROJECT, id: 'p2', name: 'HX-10', isArchived: true }],
  invitations: [{ id: 'i1', project: 'Gear unit', by: 'Tomas', role: 'editor' as const }],
  deleted: [{ id: 'p3', name: 'HX-9', until: '2026-12-20T08:00:00Z' }],
};

describe('the projects page', () => {
  it('shows what one is invited to, and joins or declines', async () => {
    const sent: unknown[] = [];
    const { user } = renderPage(<ProjectsScreen {...PAGE} />, { action: (form) => sent.push(form) });
    const invitations = within(screen.getByRole('list', { name: 'Invitations' }));
    expect(invitations.getByRole('listitem').textContent).toContain(
      'Tomas invites you to Gear unit as editor.',
    );
    await user.click(invitations.getByRole('button', { name: 'Join Gear unit' }));
    await waitFor(() => expect(sent).toEqual([{ do: 'join', id: 'i1' }]));
    await user.click(invitations.getByRole('button', { name: 'Decline to join Gear unit' }));
    await waitFor(() => expect(sent[1]).toEqual({ do: 'decline', id: 'i1' }));
  });

  it('keeps archived projects folded, and deleted ones until they are brought back', async () => {
    const sent: unknown[] = [];
    const { user } = renderPage(<ProjectsScreen {...PAGE} />, { action: (form) => sent.push(form) });
    const [archived, deleted] = screen.getAllByRole('group');
    expect(archived!.textContent).toContain('1 archived project');
    expect(within(archived!).getByRole('link', { name: 'HX-10' })).toBeTruthy();
    expect(within(archived!).queryByText('HX-12')).toBeNull();
    expect(deleted!.textContent).toContain('1 deleted project');
    await user.click(within(deleted!).getByRole('button', { name: 'Bring back HX-9' }));
    await waitFor(() => expect(sent).toEqual([{ do: 'bring-back', id: 'p3' }]));
  });

  it('says why something could not be done', () => {
    renderPage(<ProjectsScreen {...PAGE} error="This invitation is no longer open." />);
    expect(screen.getByRole('alert').textContent).toBe('This invitation is no longer open.');
  });
});
