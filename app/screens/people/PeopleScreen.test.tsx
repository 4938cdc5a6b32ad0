import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { renderPage } from '../../testing/render';
import { PeopleScreen } from './PeopleScreen';

const MEMBERS = [
  { id: 'u1', name: 'Ines', email: 'ines@example.org', role: 'owner' as const },
  { id: 'u2', name: 'Tomas', email: 'tomas@example.org', role: 'viewer' as const },
];
const INVITATIONS = [
  { id: 'i1', email: 'late@example.org', role: 'viewer' as const, time: '2026-11-20T08:00:00Z' },
];
const REST = { members: MEMBERS, invitations: INVITATIONS };

describe('the people page', () => {
  it('lets an owner invite, change and remove', async () => {
    const sent: unknown[] = [];
    const { user } = renderPage(<PeopleScreen me="u1" mayManage {...REST} />, {
      action: (form) => sent.push(form),
    });
    await user.type(
      screen.getByRole('textbox', { name: 'Invite somebody by e-mail address' }),
      'new@example.org',
    );
    await user.click(screen.getByRole('button', { name: 'Invite' }));
    await waitFor(() => expect(sent).toEqual([{ do: 'invite', email: 'new@example.org', role: 'editor' }]));
    await user.click(screen.getByRole('combobox', { name: 'Role of Tomas' }));
    await user.click(await screen.findByRole('option', { name: /^editor/ }));
    await waitFor(() => expect(sent[1]).toEqual({ do: 'role', user: 'u2', role: 'editor' }));
    await user.click(screen.getByRole('button', { name: 'Remove Tomas' }));
    await waitFor(() => expect(sent[2]).toEqual({ do: 'remove', user: 'u2' }));
    await user.click(screen.getByRole('button', { name: 'Take back the invitation of late@example.org' }));
    await waitFor(() => expect(sent[3]).toEqual({ do: 'take-back', id: 'i1' }));
  });

  it('shows everybody else who is in it, and lets them do nothing but leave', async () => {
    const sent: unknown[] = [];
    const { user } = renderPage(
      <PeopleScreen me="u2" mayManage={false} {...REST} error="A project needs an owner." />,
      { action: (form) => sent.push(form) },
    );
    expect(screen.getAllByRole('listitem').map(({ textContent }) => textContent)).toEqual([
      'Inesines@example.orgowner',
      'Tomas (you)tomas@example.orgviewerLeave the project',
    ]);
    await user.click(screen.getByRole('button'));
    await waitFor(() => expect(sent).toEqual([{ do: 'leave' }]));
    expect(screen.getByRole('alert').textContent).toBe('A project needs an owner.');
  });
});
