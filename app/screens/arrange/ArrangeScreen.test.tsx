import { createEvent, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { ArrangedOccurrence } from '#server/views/operations/arrange-view';
import { renderAsking } from '../../testing/asking';
import { ArrangeScreen } from './ArrangeScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

const occurrence = (
  key: string,
  name: string,
  more: Partial<ArrangedOccurrence> = {},
): ArrangedOccurrence => ({
  key,
  name,
  depth: 0,
  component: Number(key) + 1,
  componentName: name,
  parent: 5,
  file: null,
  holds: 0,
  ...more,
});
const VIEW = {
  file: 'unit/top.stp',
  files: ['unit/top.stp'],
  occurrences: [
    occurrence('10', 'Bolt 1', { componentName: 'Bolt', holds: 1 }),
    occurrence('20', 'Pin', { depth: 1, parent: 11 }),
    occurrence('30', 'Plate', { file: 'unit/a plate.stp' }),
  ],
  assemblies: [
    { definition: 5, name: 'Top', placed: 1 },
    { definition: 11, name: 'Bolt', placed: 2 },
  ],
  scene: { bodies: [], instances: [] },
  rows: [
    { key: '', parent: -1 },
    { key: '10', parent: 0 },
  ],
};

function openPage(path = '/projects/p/arrange', page = <ArrangeScreen {...VIEW} />) {
  return renderAsking(page, path);
}
const row = (name: RegExp) =>
  within(screen.getByRole('treegrid', { name: 'Components of the assembly' })).getByRole('row', { name });

describe('the page of arranging components', () => {
  it('says how often the assembly is placed, and leads to a copy of its own for some of the places', () => {
    const shows = { places: 3, in: { file: 'all.stp', parent: 77 } };
    openPage('/projects/p/arrange', <ArrangeScreen {...VIEW} shows={shows} />);
    expect(screen.getByText(/^top\.stp is placed 3 times: what changes shows at each place/)).toBeTruthy();
    const link = screen.getByRole('link', { name: 'Copy it for some of them first' });
    const { pathname, searchParams } = new URL(link.getAttribute('href')!, 'http://localhost');
    expect([pathname, Object.fromEntries(searchParams)]).toEqual([
      '/projects/p/arrange',
      { file: 'all.stp', do: 'own-copy', components: '77:unit%2Ftop.stp' },
    ]);
  });

  it('asks nothing until it is said where they move to', async () => {
    const { user, asked } = openPage();
    await user.click(row(/Plate/));
    expect(screen.getByText(/Each keeps its place in space/)).toBeTruthy();
    await user.click(screen.getByRole('combobox', { name: 'To' }));
    await user.click(screen.getByRole('option', { name: 'Bolt (placed 2 times)' }));
    await waitFor(() =>
      expect(asked().at(-1)).toEqual({
        operation: 'move-occurrences',
        choices: { file: 'unit/top.stp', occurrences: ['30'], into: '11' },
      }),
    );
  });

  it('moves what is dragged onto an assembly', async () => {
    const { asked } = openPage();
    const carried = new Map<string, string>();
    const dataTransfer = {
      setData: (kind: string, data: string) => carried.set(kind, data),
      getData: (kind: string) => carried.get(kind) ?? '',
      get types() {
        return [...carried.keys()];
      },
    };
    fireEvent.dragStart(row(/Plate/), { dataTransfer });
    fireEvent.dragOver(row(/Bolt 1/), { dataTransfer });
    const drop = createEvent.drop(row(/Bolt 1/), { dataTransfer });
    fireEvent(row(/Bolt 1/), drop);
    await waitFor(() =>
      expect(asked().at(-1)).toMatchObject({ choices: { occurrences: ['30'], into: '11' } }),
    );
  });

  it('begins with what somebody comes with, and groups it under a name', async () => {
    const components = encodeURIComponent(`5:11 5:${encodeURIComponent('unit/a plate.stp')}`);
    const { user, asked } = openPage(`/projects/p/arrange?do=group-occurrences&components=${components}`);
    await user.type(screen.getByRole('textbox', { name: 'Name of the group' }), 'Lower part');
    await waitFor(() =>
      expect(asked().at(-1)).toEqual({
        operation: 'group-occurrences',
        choices: { file: 'unit/top.stp', occurrences: ['10', '30'], name: 'Lower part' },
      }),
    );
  });

  it.each([
    ['Dissolve', 'dissolve'],
    ['Remove', 'take-away'],
  ])('asks for %s as soon as something is chosen', async (words, operation) => {
    const { user, asked } = openPage();
    await user.click(screen.getByRole('radio', { name: words }));
    await user.click(row(/Bolt 1/));
    await waitFor(() =>
      expect(asked().at(-1)).toEqual({ operation, choices: { file: 'unit/top.stp', occurrences: ['10'] } }),
    );
  });

  it('says where there is no assembly', () => {
    openPage(
      '/projects/p/arrange',
      <ArrangeScreen {...VIEW} file={null} files={[]} occurrences={[]} assemblies={[]} rows={[]} />,
    );
    expect(screen.getByRole('heading', { name: 'Nothing to arrange' })).toBeTruthy();
  });
});
