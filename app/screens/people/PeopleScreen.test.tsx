import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { renderPage } from '../../testing/render';
import { PeopleScreen } from './PeopleScreen';

const MEMBERS = [
  { id: 'u1', name: 'Ines', email: 'ines@example.org', role: 'owner' as const },
  { id: 'u2', name: 'Tomas', email: 'tomas@example.org', role: 'viewer' as const },
];
const PROJECT = { name: 'HX-12', description: '', searchFolders: ['standard', 'bought'] };

describe('the people page', () => {
  it('lets an owner add, change and remove members, and set the search folders', async () => {
    const sent: unknown[] = [];
    const { user } = renderPage(<PeopleScreen me="u1" mayManage project={PROJECT} members={MEMBERS} />, {
      action: (form) => sent.push(form),
    });
    await user.type(screen.getByRole('textbox', { name: 'Add somebody by e-mail' }), 'new@example.org');
    await user.click(screen.getByRole('button', { name: 'Add' }));
    await waitFor(() => expect(sent).toEqual([{ do: 'set', email: 'new@example.org', role: 'editor' }]));
    await user.click(screen.getByRole('combobox', { name: 'Role of Tomas' }));
    await user.click(await screen.findByRole('option', { name: /^editor/ }));
    await waitFor(() => expect(sent[1]).toEqual({ do: 'set', email: 'tomas@example.org', role: 'editor' }));
    await user.click(screen.getAllByRole('button', { name: 'Remove' })[1]!);
    await waitFor(() => expect(sent[2]).toEqual({ do: 'remove', user: 'u2' }));
    await user.clear(screen.getByRole('textbox', { name: 'Search folders' }));
    await user.type(screen.getByRole('textbox', { name: 'Search folders' }), 'norm');
    await user.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() =>
      expect(sent[3]).toMatchObject({ do: 'project', name: 'HX-12', searchFolders: 'norm' }),
    );
  });

  it('shows everybody else who is in it, and nothing to press', () => {
    renderPage(
      <PeopleScreen
        me="u2"
        mayManage={false}
        project={PROJECT}
        members={MEMBERS}
        error="A project needs an owner."
      />,
    );
    expect(screen.getAllByRole('listitem').map(({ textContent }) => textContent)).toEqual([
      'Inesines@example.orgowner',
      'Tomas (you)tomas@example.orgviewer',
    ]);
    expect(screen.queryAllByRole('button')).toEqual([]);
    expect(screen.getByRole('alert').textContent).toBe('A project needs an owner.');
  });
});
