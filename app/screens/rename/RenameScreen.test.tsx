import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { NamedPart } from '#server/views/operations/rename-view';
import { renderAsking } from '../../testing/asking';
import { RenameScreen } from './RenameScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

const part = (file: string, definition: number, name: string, more: Partial<NamedPart> = {}): NamedPart => ({
  key: `${file}#${definition}`,
  file,
  definition,
  id: name.toUpperCase(),
  name,
  standIns: 1,
  isItsOwn: true,
  ...more,
});
const VIEW = {
  file: 'unit/top.stp',
  files: ['unit/top.stp'],
  parts: [
    part('unit/top.stp', 5, 'Top', { standIns: 0 }),
    part('unit/a pin.stp', 7, 'Pin'),
    part('unit/top.stp', 9, 'Pin plate', { isItsOwn: false, standIns: 0 }),
  ],
  scene: { bodies: [], instances: [] },
  rows: [
    { key: 'unit/top.stp#5', parent: -1 },
    { key: 'unit/a pin.stp#7', parent: 0 },
  ],
};

function openPage(path = '/projects/p/rename', context = {}) {
  return renderAsking(<RenameScreen {...VIEW} />, path, context);
}
const row = (name: RegExp) => within(screen.getByRole('grid', { name: 'Parts' })).getByRole('row', { name });
const field = (name: string) => screen.getByRole('textbox', { name }) as HTMLInputElement;

describe('the page of renaming parts', () => {
  it('takes what is typed, each by its file and number', async () => {
    const { user, asked } = openPage();
    expect(asked()).toEqual([]);
    fireEvent.change(field('Name of Pin'), { target: { value: 'Bolt pin' } });
    fireEvent.change(field('Id of Pin plate'), { target: { value: 'P-9' } });
    await user.click(screen.getByRole('checkbox', { name: 'Name their files after them' }));
    await waitFor(() =>
      expect(asked().at(-1)).toEqual({
        operation: 'rename-parts',
        choices: {
          file: 'unit/top.stp',
          files: true,
          parts: [
            { file: 'unit/a pin.stp', part: '7', name: 'Bolt pin' },
            { file: 'unit/top.stp', part: '9', id: 'P-9' },
          ],
        },
      }),
    );
  });

  it('renames those that somebody comes with by a pattern, and gives it up again', async () => {
    const chosen = [VIEW.parts[1]!.key, VIEW.parts[2]!.key].map(encodeURIComponent).join(' ');
    const { user, asked } = openPage(`/projects/p/rename?components=${encodeURIComponent(chosen)}`);
    expect(row(/Pin plate/).getAttribute('aria-selected')).toBe('true');
    await user.type(screen.getByRole('textbox', { name: 'Find in names' }), 'pin');
    await user.type(screen.getByRole('textbox', { name: 'Replace with' }), 'Rod');
    await waitFor(() =>
      expect(asked().at(-1)).toMatchObject({
        choices: {
          parts: [
            { file: 'unit/a pin.stp', part: '7', id: 'Rod', name: 'Rod' },
            { file: 'unit/top.stp', part: '9', id: 'Rod PLATE', name: 'Rod plate' },
          ],
        },
      }),
    );
    await user.click(screen.getByRole('button', { name: 'As they were' }));
    expect(field('Name of Pin plate').value).toBe('Pin plate');
  });

  it('leaves a name that was taken away, and lets a viewer look', async () => {
    const { asked, unmount } = openPage();
    fireEvent.change(field('Name of Pin'), { target: { value: '  ' } });
    expect(asked()).toEqual([]);
    unmount();
    openPage('/projects/p/rename', { mayEdit: false });
    expect(field('Name of Pin').disabled).toBe(true);
  });
});
