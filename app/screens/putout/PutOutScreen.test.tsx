import { screen, waitFor, within } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it, vi } from 'vitest';
import type { InFileComponent } from '#core/jobs/putout/components';
import { renderAsking } from '../../testing/asking';
import { PutOutScreen } from './PutOutScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

const component = (
  definition: number,
  name: string,
  more: Partial<InFileComponent> = {},
): InFileComponent => ({
  definition,
  id: `ID-${definition}`,
  name,
  placings: 1,
  bodies: 1,
  components: 0,
  level: 1,
  ...more,
});
const VIEW = {
  file: 'unit/top.stp',
  files: ['unit/top.stp'],
  components: [component(10, 'Bolt', { bodies: 0, components: 2, placings: 2 }), component(20, 'Plate')],
  scene: { bodies: [], instances: [] },
  rows: [
    { key: '', parent: -1 },
    { key: '10', parent: 0 },
  ],
};
type Sent = {
  file: string;
  components: string[];
  to: string | null;
  names: { [definition: string]: string };
};

function openPage(page = <PutOutScreen {...VIEW} />, path = '/projects/p/put-out') {
  const { asked, ...rest } = renderAsking(page, path);
  return { ...rest, asked: () => asked().map(({ choices }) => choices as Sent) };
}
/** The page, and what it is told when all has become files. */
function Standing() {
  const [isDone, setDone] = useState(false);
  const after = { ...VIEW, file: null, files: [], components: [], rows: [] };
  return (
    <>
      <button type="button" onClick={() => setDone(true)}>
        Somebody has put it out
      </button>
      <PutOutScreen {...(isDone ? after : VIEW)} />
    </>
  );
}
const row = (name: RegExp) =>
  within(screen.getByRole('grid', { name: 'Components in the file' })).getByRole('row', { name });

describe('the page of putting components out', () => {
  it('asks what becomes of those that are chosen, called as is typed, in the folder that is said', async () => {
    const { user, asked } = openPage();
    expect(row(/Bolt/).textContent).toContain('2 components');
    expect(screen.queryByRole('textbox', { name: 'File name of Plate' })).toBeNull();
    await user.click(row(/Plate/));
    await user.type(screen.getByRole('textbox', { name: 'File name of Plate' }), 'base');
    await user.type(screen.getByRole('textbox', { name: 'Into the folder' }), 'parts');
    await waitFor(() =>
      expect(asked().at(-1)).toEqual({
        file: 'unit/top.stp',
        components: ['20'],
        to: 'parts',
        names: { 20: 'base' },
      }),
    );
  });

  it('begins with what somebody comes with, as far as it is there', async () => {
    const { asked } = openPage(<PutOutScreen {...VIEW} />, '/projects/p/put-out?components=10+99');
    expect(row(/Bolt/).getAttribute('aria-selected')).toBe('true');
    await waitFor(() => expect(asked().at(-1)?.components).toEqual(['10']));
  });

  it('stays with what was chosen when that has become files', async () => {
    const { user, asked } = openPage(<Standing />);
    await user.click(row(/Plate/));
    await waitFor(() => expect(asked()).toHaveLength(1));
    await user.click(screen.getByRole('button', { name: 'Somebody has put it out' }));
    expect(screen.getByRole('heading', { name: 'Put components out' })).toBeTruthy();
    expect(screen.queryByRole('heading', { name: 'Nothing to put out' })).toBeNull();
    expect(asked().at(-1)).toMatchObject({ file: 'unit/top.stp', components: ['20'] });
  });

  it('says where nothing lies in a file', () => {
    openPage(<PutOutScreen {...VIEW} file={null} files={[]} components={[]} rows={[]} />);
    expect(screen.getByRole('heading', { name: 'Nothing to put out' })).toBeTruthy();
  });
});
