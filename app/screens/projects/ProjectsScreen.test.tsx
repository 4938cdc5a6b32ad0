import { screen, waitFor, within } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { renderPage } from '../../testing/render';
import { ProjectsScreen } from './ProjectsScreen';

const PROJECT = {
  id: 'p1',
  name: 'HX-12',
  description: '',
  role: 'owner',
  changed: '2026-11-20T08:00:00Z',
  isArchived: false,
  isStarred: false,
  facts: null,
  trouble: null,
};
const PAGE = {
  user: { name: 'Ines' },
  projects: [PROJECT, { ...PROJECT, id: 'p2', name: 'HX-10', isArchived: true }],
  invitations: [{ id: 'i1', project: 'Gear unit', by: 'Tomas', role: 'editor' as const }],
  deleted: [{ id: 'p3', name: 'HX-9', until: '2026-12-20T08:00:00Z' }],
};

/** The stream of events, as the browser's. */
class EventSourceStandIn {
  static open: EventSourceStandIn[] = [];
  onmessage?: (message: { data: string }) => void;
  onopen?: () => void;
  onerror?: () => void;
  isClosed = false;
  constructor() {
    EventSourceStandIn.open.push(this);
  }
  close() {
    this.isClosed = true;
  }
}
beforeEach(() => {
  EventSourceStandIn.open = [];
  vi.stubGlobal('EventSource', EventSourceStandIn);
  vi.stubGlobal('fetch', async () => new Response('{}'));
});

describe('the projects page', () => {
  it('hears of an invitation, and of what happened while nothing was heard, once each', async () => {
    let loaded = 0;
    const { unmount } = renderPage(<ProjectsScreen {...PAGE} />, { loads: () => ++loaded });
    await waitFor(() => expect(EventSourceStandIn.open).toHaveLength(1));
    const [stream] = EventSourceStandIn.open;
    expect(loaded).toBe(1);
    stream!.onopen!();
    for (let n = 0; n < 3; n++) stream!.onmessage!({ data: '{"type":"person"}' });
    await waitFor(() => expect(loaded).toBe(2));
    stream!.onmessage!({ data: '{"project":"p1","type":"shape","state":"ready"}' });
    stream!.onerror!();
    stream!.onopen!();
    await waitFor(() => expect(loaded).toBe(3));
    unmount();
    await waitFor(() => expect(stream!.isClosed).toBe(true));
    await new Promise((resolve) => setTimeout(resolve, 800));
    expect(loaded).toBe(3);
  });

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
