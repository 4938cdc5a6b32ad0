import { screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { press, renderPage } from '../../testing/render';
import { AccountScreen } from './AccountScreen';

const SESSION = {
  opened: '2026-11-20T08:00:00Z',
  seen: '2026-11-27T09:30:00Z',
  browser: 'Gecko Firefox/140',
};
const PAGE = {
  user: { name: 'Ines Calder', email: 'ines@example.org' },
  sessions: [
    { ...SESSION, id: 's1', isThis: true },
    { ...SESSION, id: 's2', isThis: false },
  ],
};

describe('the account page', () => {
  it('lists where one is signed in, and ends one session or all others, never the one that asks', async () => {
    const sent: unknown[] = [];
    const { user } = renderPage(<AccountScreen {...PAGE} />, { action: (form) => sent.push(form) });
    const [mine, other] = screen.getAllByRole('listitem');
    expect(mine!.textContent).toContain('this one');
    expect(within(mine!).queryByRole('button')).toBeNull();
    await user.click(within(other!).getByRole('button', { name: /^End it: the session in Firefox/ }));
    await waitFor(() => expect(sent).toEqual([{ do: 'end', id: 's2' }]));
    await press(user, 'End all others');
    await waitFor(() => expect(sent[1]).toEqual({ do: 'end-others' }));
  });

  it('takes a new password, and says why not, or that all other sessions have ended', async () => {
    const sent: unknown[] = [];
    const { user } = renderPage(<AccountScreen {...PAGE} error="The present password is another one." />, {
      action: (form) => sent.push(form),
    });
    expect(screen.getByRole('alert').textContent).toBe('The present password is another one.');
    await user.type(screen.getByLabelText(/Present password/), 'verdigris');
    await user.type(screen.getByLabelText(/New password/), 'a longer one');
    await user.click(screen.getByRole('button', { name: 'Change it' }));
    await waitFor(() =>
      expect(sent).toEqual([{ do: 'password', before: 'verdigris', after: 'a longer one' }]),
    );
  });

  it('has nothing to end where there is one session', () => {
    renderPage(<AccountScreen {...PAGE} sessions={PAGE.sessions.slice(0, 1)} done="password" />);
    expect((screen.getByRole('button', { name: 'End all others' }) as HTMLButtonElement).disabled).toBe(true);
    expect(screen.getByRole('status').textContent).toContain('all other sessions have ended');
  });
});
