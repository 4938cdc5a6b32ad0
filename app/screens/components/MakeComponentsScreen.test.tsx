import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { renderAsking } from '../../testing/asking';
import { MakeComponentsScreen } from './MakeComponentsScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

const VIEW = {
  file: 'unit/bolt.stp',
  files: ['unit/bolt.stp'],
  bodies: [
    { body: 70, name: 'shank', parent: 'Bolt', definition: 5 },
    { body: 90, name: 'head', parent: 'Bolt', definition: 5 },
    { body: 99, name: 'Lid 1', parent: 'Lid', definition: 6 },
  ],
  scene: { bodies: [], instances: [] },
  rows: [{ key: '5', parent: -1 }],
};

function openPage(path = '/projects/p/make-components', view: Partial<typeof VIEW> | { file: null } = {}) {
  return renderAsking(<MakeComponentsScreen {...VIEW} {...view} />, path);
}

describe('the page of making components of bodies', () => {
  it('begins with all of them, and takes other names', async () => {
    const { asked } = openPage();
    fireEvent.change(screen.getByRole('textbox', { name: 'Name of the part of head' }), {
      target: { value: 'Bolt head' },
    });
    await waitFor(() =>
      expect(asked().at(-1)).toEqual({
        operation: 'make-components',
        choices: { file: 'unit/bolt.stp', bodies: [70, 90, 99], names: { 90: 'Bolt head' } },
      }),
    );
  });

  it('begins with those of the part that somebody comes with', async () => {
    const { asked } = openPage('/projects/p/make-components?components=6');
    await waitFor(() => expect(asked().at(-1)).toMatchObject({ choices: { bodies: [99] } }));
  });

  it('says where there are none', () => {
    openPage(undefined, { file: null });
    expect(screen.getByRole('heading', { name: 'No loose bodies' })).toBeTruthy();
  });
});
