import { screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { renderPage } from '../../testing/render';
import { SettingsScreen } from './SettingsScreen';

const PROJECT = { name: 'HX-12', description: '', searchFolders: ['standard', 'bought'], isArchived: false };
const SIZE = { files: 60, versions: 71, bytes: 4_800_000, offered: 1 };

describe('the page of the project itself', () => {
  it('lets an owner name it, and say where files are looked for', async () => {
    const sent: unknown[] = [];
    const { user } = renderPage(<SettingsScreen mayManage project={PROJECT} size={SIZE} isSaved />, {
      action: (form) => sent.push(form),
    });
    await user.clear(screen.getByRole('textbox', { name: 'Search folders' }));
    await user.type(screen.getByRole('textbox', { name: 'Search folders' }), 'norm');
    await user.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() =>
      expect(sent).toMatchObject([{ do: 'project', name: 'HX-12', searchFolders: 'norm' }]),
    );
    expect((await screen.findByRole('status')).textContent).toBe('Saved.');
  });

  it('lets an owner take the project away, put it to rest, and delete it by its name', async () => {
    const sent: unknown[] = [];
    const { user } = renderPage(<SettingsScreen mayManage project={PROJECT} size={SIZE} />, {
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
      <SettingsScreen mayManage project={{ ...PROJECT, isArchived: true }} size={SIZE} />,
      { action: (form) => sent.push(form) },
    );
    await user.click(screen.getByRole('button', { name: 'Take out of the archive' }));
    await waitFor(() => expect(sent).toEqual([{ do: 'unarchive' }]));
  });

  it('shows everybody else what it is', () => {
    renderPage(<SettingsScreen mayManage={false} project={PROJECT} size={SIZE} error="Not yours." />);
    expect(screen.getByText('standard, bought')).toBeTruthy();
    expect(screen.queryByRole('button')).toBeNull();
    expect(screen.getByRole('alert').textContent).toBe('Not yours.');
  });
});
