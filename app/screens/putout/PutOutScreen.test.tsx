import { screen, waitFor, within } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it, vi } from 'vitest';
import { type InFileComponent, inFileComponents } from '#core/jobs/putout/components';
import { IDENTITY } from '#core/product/matrix';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { inFileAssembly } from '#core/testing/in-file-assembly';
import { renderAsking } from '../../testing/asking';
import { operationsStandIn } from '../../testing/operations-stand-in';
import { renderPage } from '../../testing/render';
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
  others: boolean;
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
        others: false,
      }),
    );
  });

  it('names all that are chosen by a pattern, but those that are typed', async () => {
    const { user, asked } = openPage();
    await user.click(row(/Plate/));
    await user.keyboard('{Control>}');
    await user.click(row(/Bolt/));
    await user.keyboard('{/Control}');
    await user.type(screen.getByRole('textbox', { name: 'Prefix' }), 'U-');
    await waitFor(() => expect(asked().at(-1)?.names).toEqual({ 10: 'U-Bolt', 20: 'U-Plate' }));
    await user.type(screen.getByRole('textbox', { name: 'File name of Bolt' }), 'axle');
    await waitFor(() => expect(asked().at(-1)?.names).toEqual({ 10: 'axle', 20: 'U-Plate' }));
    await user.click(screen.getByRole('button', { name: 'As they were' }));
    await waitFor(() => expect(asked().at(-1)?.names).toEqual({}));
  });

  it('offers to place the file in others that carry the same number', async () => {
    const files = new MemoryFileSet(
      ['unit/top.stp', 'rail.stp'].map((path) => [
        path,
        inFileAssembly({
          id: path,
          parts: [{ id: 'PIN-7', boxes: [{}] }],
          assemblies: [{ id: path, places: [['PIN-7', IDENTITY]] }],
        }),
      ]),
    );
    const { scan } = (await scanFileSet(files)).files.get('unit/top.stp')!;
    const operations = operationsStandIn(files);
    vi.stubGlobal('fetch', operations.answer);
    const { user } = renderPage(<PutOutScreen {...VIEW} components={inFileComponents(scan)} />, {
      path: '/projects/p/put-out',
    });
    await user.click(row(/PIN-7/));
    await user.click(
      await screen.findByRole('checkbox', {
        name: '1 other file carries the same number: place the new file there, too',
      }),
    );
    // Nothing is measured here.
    expect(await screen.findByText(/^rail\.stp carries PIN-7, too: left as it is, since/)).toBeTruthy();
    expect(operations.asked.at(-1)!.choices).toMatchObject({ others: true });
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
