import { Menu } from '@mantine/core';
import { screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { renderPage } from '../../testing/render';
import { ChangeItems, type PlacedRow } from './ChangeItems';

const HOLDER = { file: 'unit/top.stp', definition: 5 };
const row = (some: Partial<PlacedRow> = {}): PlacedRow => ({
  file: 'std/nut m8.stp',
  definition: 10,
  holder: HOLDER,
  isLinked: true,
  isBroken: false,
  bodies: 1,
  components: 0,
  ...some,
});
const INSIDE = row({ file: HOLDER.file, definition: 20, isLinked: false });

/** The entries, each with where it leads. */
function entries(props: React.ComponentProps<typeof ChangeItems>, context = {}) {
  renderPage(
    <Menu opened>
      <Menu.Dropdown>
        <ChangeItems {...props} />
      </Menu.Dropdown>
    </Menu>,
    { context },
  );
  return Object.fromEntries(
    screen.queryAllByRole('menuitem').map((item) => {
      const { pathname, searchParams } = new URL(item.getAttribute('href')!, 'http://localhost');
      return [item.textContent, { page: pathname.split('/').at(-1), ...Object.fromEntries(searchParams) }];
    }),
  );
}

describe('the entries that change how an assembly is put together', () => {
  it('begin with the component in the assembly that places it', () => {
    const found = entries({ rows: [row()], top: HOLDER.file });
    const components = '5:std%2Fnut%20m8.stp';
    expect(found).toEqual({
      'Detach and take into its assembly’s file…': {
        page: 'take-in',
        file: HOLDER.file,
        components: 'std%2Fnut%20m8.stp',
      },
      'Move, group, dissolve, remove or copy…': { page: 'arrange', file: HOLDER.file, components },
      'Replace by another file…': { page: 'replace', file: HOLDER.file, components },
      'Set the placement…': { page: 'place', file: HOLDER.file, components, do: 'set-placement' },
      'Place again in a row or circle…': { page: 'place', file: HOLDER.file, components, do: 'place-again' },
      'Rename the part…': { page: 'rename', file: 'std/nut m8.stp', components: 'std%2Fnut%20m8.stp%2310' },
    });
  });

  it('replace it everywhere where a row stands for all of its places', () => {
    const found = entries({ rows: [row()], top: HOLDER.file, isOfAllPlaces: true });
    expect(found['Replace by another file…']).toMatchObject({ everywhere: '1' });
  });

  it('put out what lies in the file of its assembly, and take in what does not', () => {
    expect(Object.keys(entries({ rows: [INSIDE], top: HOLDER.file }))).toContain(
      'Put out of its assembly’s file…',
    );
  });

  it('offer for several what all of them can have', () => {
    const found = Object.keys(entries({ rows: [row(), INSIDE], top: HOLDER.file }));
    expect(found).toContain('Rename the parts…');
    expect(found).not.toContain('Put out of its assembly’s file…');
    expect(found).not.toContain('Detach and take into its assembly’s file…');
  });

  it('arrange nothing that different files place', () => {
    const other = row({ holder: { file: 'other.stp', definition: 5 } });
    const found = Object.keys(entries({ rows: [row(), other], top: HOLDER.file }));
    expect(found).not.toContain('Move, group, dissolve, remove or copy…');
  });

  it('are none for whoever may only look', () => {
    expect(entries({ rows: [row()], top: HOLDER.file }, { mayEdit: false })).toEqual({});
  });
});
