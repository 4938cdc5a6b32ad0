import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { atOnce } from '#core/steps';
import { multiplied } from '#core/testing/in-file-assembly';
import { gearUnit } from '#core/testing/projects';
import { fileLinks } from '#server/views/files/file-facts';
import { structureViewSteps } from '#server/views/structure/structure-view';
import { press, renderPage, selectRow } from '../../testing/render';
import { StructureScreen } from './StructureScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

/** The page over a gear unit, as its loader fills it. */
async function openPage(path = '/projects/p/structure') {
  const project = await scanFileSet(gearUnit());
  const views = new Map(
    [true, false].map((grouped) => [
      grouped,
      atOnce(structureViewSteps(project, new Map(), 'p', { root: 'unit.stp', grouped })),
    ]),
  );
  const asked: string[] = [];
  const page = renderPage((search) => <StructureScreen {...views.get(!search.has('single'))!} views={[]} />, {
    path,
    loads: (url) => {
      if (!url.pathname.endsWith('/file-facts')) return null;
      asked.push(url.searchParams.get('path')!);
      return { ...fileLinks(project, asked.at(-1)!), versions: [] };
    },
  });
  await screen.findByRole('treegrid', { name: 'Structure' });
  return { ...page, asked };
}

const names = () =>
  screen
    .getAllByRole('row')
    .flatMap((row) => within(row).queryAllByRole('gridcell')[0]?.textContent?.trim() ?? []);

describe('the structure page', () => {
  it('is an indented table with quantities and the state of every link', async () => {
    await openPage();
    expect(names()).toEqual(['UNIT assembly', 'DRIVE assembly', 'HOUSING', 'LID', 'M6', 'WASHER', 'BASE']);
    expect(screen.getByRole('row', { name: /M6/ }).textContent).toMatch(/M64soundscrew-m6\.stp/);
    expect(screen.getByRole('row', { name: /LID/ }).textContent).toContain('missing');
    expect(screen.getByRole('row', { name: /LID/ }).getAttribute('aria-level')).toBe('3');
  });

  it('says what of a structure that multiplies is not listed, and fetches it when it is opened', async () => {
    const project = await scanFileSet(new MemoryFileSet([['top.stp', multiplied(4, 3, true)]]));
    const limits = { rows: 20, instances: 50 };
    const viewOf = (unfold: string[]) =>
      atOnce(structureViewSteps(project, new Map(), 'p', { root: null, grouped: true, unfold, limits }));
    const { user, address } = renderPage(
      (search) => <StructureScreen {...viewOf(search.get('unfold')?.split(' ') ?? [])} views={[]} />,
      { path: '/projects/p/structure' },
    );
    const note = await screen.findByRole('note');
    expect(note.textContent).toMatch(/\d+ rows are not listed to the bottom/);
    expect(note.textContent).toContain('50 of 243 placed bodies');
    const [folded] = screen
      .getAllByRole('row', { expanded: false })
      .filter((row) => row.getAttribute('aria-level') === '3');
    const before = names().length;
    await user.click(within(folded!).getByRole('button', { name: /^(Open|Unfold|Expand|Show)/ }));
    await waitFor(() => expect(names().length).toBeGreaterThan(before));
    expect(address()).toContain('unfold=');
  });

  it('lists every placing by itself when asked', async () => {
    const { user } = await openPage();
    await user.click(screen.getByRole('switch', { name: 'One by one' }));
    await waitFor(() => expect(names().filter((name) => name.startsWith('M6'))).toHaveLength(4));
  });

  it('keeps what fits the filter, with the way down to it', async () => {
    const { user } = await openPage();
    await user.type(screen.getByRole('textbox', { name: /filter/i }), 'm6');
    await waitFor(() => expect(names()).toEqual(['UNIT assembly', 'DRIVE assembly', 'M6']));
    await user.clear(screen.getByRole('textbox', { name: /filter/i }));
    await user.type(screen.getByRole('textbox', { name: /filter/i }), 'nothing such');
    expect(await screen.findByText('Nothing in the structure fits “nothing such”.')).toBeTruthy();
  });

  it('finds components by what their links are, and sums up what lies below', async () => {
    const { user } = await openPage();
    const drive = screen.getByRole('row', { name: /DRIVE/ });
    // The housing and four screws; the lid is missing, and which washer is meant is not known.
    expect(within(drive).getByText('5').title).toBe('5, with all that lies below');
    const filter = screen.getByRole('textbox', { name: /filter/i });
    await user.type(filter, 'missing');
    await waitFor(() => expect(names()).toEqual(['UNIT assembly', 'DRIVE assembly', 'LID']));
    await user.clear(filter);
    await user.type(filter, '>1MB');
    expect(await screen.findByText('Nothing in the structure fits “>1MB”.')).toBeTruthy();
  });

  it('opens an assembly that is inside by itself, so that one can go back', async () => {
    const { user, address } = await openPage();
    fireEvent.contextMenu(screen.getByRole('row', { name: /DRIVE/ }));
    await user.click(await screen.findByRole('menuitem', { name: 'Open by itself' }));
    await waitFor(() =>
      expect(address()).toBe('/projects/p/structure?root=drive%2Fdrive.stp&within=%5B%22unit.stp%22%5D'),
    );
    const way = await screen.findByRole('navigation', { name: 'Opened out of' });
    expect(within(way).getByRole('link', { name: 'unit.stp' }).getAttribute('href')).toBe(
      '/projects/p/structure?root=unit.stp',
    );
  });

  it('lights a component with all that is below it, and shows its facts', async () => {
    const { user, asked, address } = await openPage();
    await user.click(screen.getByRole('row', { name: /HOUSING/ }));
    const facts = await screen.findByRole('complementary', { name: 'Facts about HOUSING' });
    expect(await within(facts).findByRole('tab', { name: 'Used in 1' })).toBeTruthy();
    expect(asked).toEqual(['parts/housing.stp']);
    const lit = () =>
      screen
        .getAllByRole('button', { pressed: true, name: /^Body/ })
        .map((body) => body.getAttribute('aria-label'));
    expect(lit()).toHaveLength(1);
    await user.click(screen.getByRole('row', { name: /DRIVE/ }));
    await waitFor(() => expect(lit()).toHaveLength(5));
    expect(address()).toMatch(/[?&]sel=0\.0/);
  });

  it('offers what can be done with a component by the menu of its row, and little for one whose file is missing', async () => {
    await openPage();
    fireEvent.contextMenu(screen.getByRole('row', { name: /DRIVE/ }));
    const handOff = await screen.findByRole('menuitem', { name: 'Hand-off' });
    expect(handOff.getAttribute('href')).toBe('/projects/p/hand-off?root=drive%2Fdrive.stp');
    expect(screen.queryByRole('menuitem', { name: 'Split' })).toBeNull();
    expect(screen.getByRole('menuitem', { name: 'Download' }).getAttribute('href')).toBe(
      '/projects/p/latest?path=drive%2Fdrive.stp',
    );
    expect(screen.getByRole('menuitem', { name: 'New version of this file…' })).toBeTruthy();
    expect(screen.getByRole('menuitem', { name: 'Rename or move' })).toBeTruthy();
    fireEvent.contextMenu(screen.getByRole('row', { name: /LID/ }));
    // It can be moved, removed and replaced, but there is no file to be worked on.
    await waitFor(() => expect(screen.queryByRole('menuitem', { name: 'Hand-off' })).toBeNull());
    const [arrange, ...others] = screen.getAllByRole('menuitem');
    expect(arrange!.getAttribute('href')).toMatch(
      /^\/projects\/p\/arrange\?file=drive%2Fdrive\.stp&components=\d+%3A\.\.%255Cparts%255Clid\.stp$/,
    );
    expect(others.map(({ textContent }) => textContent)).toEqual([
      'Replace by another file…',
      'Set the placement…',
      'Place again in a row or circle…',
    ]);
    expect(screen.getByText('There is no file to work on')).toBeTruthy();
  });

  it('hides a component and what is below it, shows one alone, and shows all again', async () => {
    const { user } = await openPage();
    const hidden = () => document.querySelectorAll('[data-hidden]').length;
    const all = screen.getAllByRole('button', { name: /^Body/ }).length;
    expect(screen.getByRole('button', { name: 'Hide' })).toHaveProperty('disabled', true);
    await selectRow(user, /DRIVE/);
    await press(user, 'Hide');
    await waitFor(() => expect(hidden()).toBe(all - 1));
    expect(screen.getByText(/\d rows hidden/)).toBeTruthy();
    await press(user, 'Show');
    await waitFor(() => expect(hidden()).toBe(0));
    await selectRow(user, /HOUSING/);
    await press(user, 'Show alone');
    await waitFor(() => expect(hidden()).toBe(all - 1));
    await press(user, 'Show all');
    await waitFor(() => expect(hidden()).toBe(0));
  });

  it('selects several rows, in the table and on the model, sums them up, and hides them together', async () => {
    const { user, address } = await openPage();
    await selectRow(user, /HOUSING/);
    await user.keyboard('{Control>}');
    await user.click(screen.getByRole('row', { name: /M6/ }));
    await waitFor(() => expect(address()).toMatch(/sel=0\.0\.2&also=0\.0\.0/));
    await user.click(screen.getAllByRole('button', { name: /^Body BASE/ })[0]!);
    await user.keyboard('{/Control}');
    // The choice finds its way through the address: until then two rows are summed up.
    await waitFor(() =>
      expect(screen.getByRole('complementary', { name: 'What is selected' }).textContent).toContain(
        '3 rows selected: 6 bodies',
      ),
    );
    const lit = screen.getAllByRole('button', { pressed: true, name: /^Body/ });
    expect(lit).toHaveLength(6);
    await press(user, 'Hide');
    await waitFor(() => expect(document.querySelectorAll('[data-hidden]').length).toBe(6));
  });

  it('leads to what a file uses and where it is used, and to the rows above', async () => {
    const { user } = await openPage();
    await user.click(screen.getByRole('row', { name: /HOUSING/ }));
    const facts = await screen.findByRole('complementary', { name: 'Facts about HOUSING' });
    await user.click(await within(facts).findByRole('tab', { name: 'Used in 1' }));
    expect(within(facts).getByRole('link', { name: 'drive/drive.stp' }).getAttribute('href')).toBe(
      '/projects/p/structure?root=drive%2Fdrive.stp',
    );
    await user.click(within(facts).getByRole('tab', { name: 'HOUSING' }));
    await user.click(within(facts).getByRole('button', { name: 'DRIVE assembly' }));
    await screen.findByRole('complementary', { name: 'Facts about DRIVE assembly' });
  });

  it('selects the row of a body that is picked on the model', async () => {
    const { user } = await openPage();
    await user.click(screen.getAllByRole('button', { name: /^Body BASE/ })[0]!);
    await waitFor(() =>
      expect(screen.getByRole('row', { name: /BASE/ }).getAttribute('aria-selected')).toBe('true'),
    );
  });

  it('says what to do when there is no structure', async () => {
    const project = await scanFileSet(new MemoryFileSet([]));
    renderPage(
      <StructureScreen
        {...atOnce(structureViewSteps(project, new Map(), 'p', { root: null, grouped: true }))}
        views={[]}
      />,
    );
    expect(screen.getByRole('heading', { name: 'No structure yet' })).toBeTruthy();
  });
});
