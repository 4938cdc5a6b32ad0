import { screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { renderPage } from '../../testing/render';
import { PeopleScreen } from './PeopleScreen';

const MEMBERS = [
  { id: 'u1', name: 'Ines', email: 'ines@example.org', role: 'owner' as const },
  { id: 'u2', name: 'Tomas', email: 'tomas@example.org', role: 'viewer' as const },
];
const PROJECT = { name: 'HX-12', description: '', searchFolders: ['standard', 'bought'], isArchived: false };
const INVITATIONS = [
  { id: 'i1', email: 'late@example.org', role: 'viewer' as const, time: '2026-11-20T08:00:00Z' },
];
const SIZE = { files: 60, versions: 71, bytes: 4_800_000, offered: 1 };
const REST = { project: PROJECT, members: MEMBERS, invitations: INVITATIONS, size: SIZE };

describe('the people page', () => {
  it('lets an owner invite, change and remove, and set the search folders', async () => {
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
    await user.clear(screen.getByRole('textbox', { name: 'Search folders' }));
    await user.type(screen.getByRole('textbox', { name: 'Search folders' }), 'norm');
    await user.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() =>
      expect(sent[4]).toMatchObject({ do: 'project', name: 'HX-12', searchFolders: 'norm' }),
    );
  });

  it('lets an owner take the project away, put it to rest, and delete it by its name', async () => {
    const sent: unknown[] = [];
    const { user } = renderPage(<PeopleScreen me="u1" mayManage {...REST} />, {
      action: (form) => sent.push(form),
    });
    const whole = within(screen.getByRole('list', { name: 'The whole project' }));
    expect(whole.getByRole('link', { name: 'Download' }).getAttribute('href')).toBe('/projects/p/export.zip');
    expect(whole.getAllByRole('listitem')[2]!.textContent).toContain(
      '60 files in 71 versions (4.8 MB) go, and 1 file in the catalogue.',
    );
    await user.click(whole.getByRole('button', { name: 'Archive it' }));
    await waitFor(() => expect(sent).toEqual([{ do: 'archive' }]));
    await user.click(whole.getByRole('button', { name: 'Delete it …' }));
    await user.type(whole.getByRole('textbox', { name: 'Type HX-12 to delete it' }), 'HX-12');
    await user.click(whole.getByRole('button', { name: 'Delete the project' }));
    await waitFor(() => expect(sent[1]).toEqual({ do: 'delete', name: 'HX-12' }));
  });

  it('takes an archived project out again', async () => {
    const sent: unknown[] = [];
    const { user } = renderPage(
      <PeopleScreen me="u1" mayManage {...REST} project={{ ...PROJECT, isArchived: true }} />,
      { action: (form) => sent.push(form) },
    );
    await user.click(screen.getByRole('button', { name: 'Take out of the archive' }));
    await waitFor(() => expect(sent).toEqual([{ do: 'unarchive' }]));
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
