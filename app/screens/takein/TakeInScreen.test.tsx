import { screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { LinkedComponent } from '#server/views/operations/take-in-view';
import { renderAsking } from '../../testing/asking';
import { TakeInScreen } from './TakeInScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

const component = (name: string, path: string, more: Partial<LinkedComponent> = {}): LinkedComponent => ({
  path,
  id: name,
  name,
  placings: 1,
  bytes: 2000,
  below: 0,
  why: null,
  ...more,
});
const VIEW = {
  file: 'unit/top.stp',
  files: ['unit/top.stp'],
  components: [
    component('Bolt', 'unit/a bolt.stp', { below: 2, placings: 4 }),
    component('Plate', 'unit/plate.stp'),
    component('Cover', 'unit/cover.stl', { why: 'only STEP can stand in a STEP file' }),
  ],
  scene: { bodies: [], instances: [] },
  rows: [
    { key: '', parent: -1 },
    { key: 'unit/a bolt.stp', parent: 0 },
  ],
};

function openPage(path = '/projects/p/take-in', page = <TakeInScreen {...VIEW} />) {
  const { asked, ...rest } = renderAsking(page, path);
  return { ...rest, asked: () => asked().map(({ choices }) => choices) };
}
const row = (name: RegExp) =>
  within(screen.getByRole('grid', { name: 'Files of components' })).getByRole('row', { name });

describe('the page of taking components in', () => {
  it('begins with all that can be taken in, and says why others cannot', async () => {
    const { asked } = openPage();
    expect(row(/Cover/).textContent).toContain('Stays: only STEP can stand in a STEP file');
    expect(row(/Bolt/).textContent).toContain('2 files');
    await waitFor(() =>
      expect(asked().at(-1)).toEqual({
        file: 'unit/top.stp',
        components: ['unit/plate.stp', 'unit/a bolt.stp'],
        deep: false,
        dropUnused: false,
      }),
    );
  });

  it('takes in what somebody comes with, as deep as is said, and lets files go', async () => {
    const { user, asked } = openPage(
      `/projects/p/take-in?components=${encodeURIComponent('unit%2Fa%20bolt.stp gone.stp')}`,
    );
    expect(row(/Bolt/).getAttribute('aria-selected')).toBe('true');
    expect(row(/Plate/).getAttribute('aria-selected')).toBe('false');
    await user.click(screen.getByRole('checkbox', { name: /to any depth/ }));
    await user.click(screen.getByRole('checkbox', { name: /nothing uses any more/ }));
    await waitFor(() =>
      expect(asked().at(-1)).toEqual({
        file: 'unit/top.stp',
        components: ['unit/a bolt.stp'],
        deep: true,
        dropUnused: true,
      }),
    );
  });

  it('says where no file is a component', () => {
    openPage(
      '/projects/p/take-in',
      <TakeInScreen {...VIEW} file={null} files={[]} components={[]} rows={[]} />,
    );
    expect(screen.getByRole('heading', { name: 'Nothing to take in' })).toBeTruthy();
  });
});
