import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import { renderPage } from '../../testing/render';
import { Ledger } from './Ledger';

interface Line {
  key: string;
  depth: number;
}
const lines = (count: number): Line[] =>
  Array.from({ length: count }, (_, n) => ({ key: `r${n}`, depth: 0 }));

function Table({ rows, several = false }: { rows: Line[]; several?: boolean }) {
  const [keys, setKeys] = useState<string[]>([]);
  return (
    <Ledger
      label="Lines"
      columns={[
        { key: 'name', title: 'Name', width: '1fr', cell: ({ key }) => key },
        { key: 'depth', title: 'Depth', width: '60px', numeric: true, cell: ({ depth }) => depth },
      ]}
      rows={rows}
      keyOf={({ key }) => key}
      selected={keys.at(-1) ?? null}
      onSelect={({ key }) => setKeys([key])}
      several={several ? { keys, onSelect: setKeys } : undefined}
      empty="There is nothing."
    />
  );
}

/** A table whose columns can be arranged. */
function Parts({ isMain = false }) {
  return (
    <Ledger
      label={`Parts ${isMain}`}
      isMain={isMain}
      columns={[
        {
          key: 'name',
          title: 'Name',
          width: 'minmax(80px, 1fr)',
          cell: ({ name }) => name,
          sort: ({ name }) => name,
        },
        { key: 'mass', title: 'Mass', width: '60px', cell: ({ mass }) => mass, sort: ({ mass }) => mass },
        { key: 'note', title: 'Note', width: '60px', cell: () => 'n', isExtra: true },
      ]}
      rows={[
        { name: 'M10', mass: 2 },
        { name: 'M8', mass: 3 },
        { name: 'M24', mass: 1 },
      ]}
      keyOf={({ name }) => name}
      selected={null}
      onSelect={() => {}}
      empty=""
    />
  );
}

/** A tree of three levels whose rows open and close. */
function Tree() {
  const [closed, setClosed] = useState<string[]>(['a']);
  const [selected, setSelected] = useState<string | null>(null);
  const all = [
    { key: 'top', depth: 0, leaf: false, under: [] as string[] },
    { key: 'a', depth: 1, leaf: false, under: ['top'] },
    { key: 'a1', depth: 2, leaf: true, under: ['top', 'a'] },
    { key: 'b', depth: 1, leaf: true, under: ['top'] },
  ];
  return (
    <Ledger
      label="Tree"
      columns={[{ key: 'name', title: 'Name', width: '1fr', cell: ({ key }) => key }]}
      rows={all.filter(({ under }) => !under.some((key) => closed.includes(key)))}
      keyOf={({ key }) => key}
      selected={selected}
      onSelect={({ key }) => setSelected(key)}
      tree={{
        depth: ({ depth }) => depth,
        open: ({ key, leaf }) => (leaf ? null : !closed.includes(key)),
        onToggle: ({ key }, open) =>
          setClosed(open ? closed.filter((other) => other !== key) : [...closed, key]),
      }}
      empty=""
    />
  );
}

const selected = () =>
  screen
    .queryAllByRole('row', { selected: true })
    .map((row) => within(row).getAllByRole('gridcell')[0]!.textContent);
const shown = () =>
  screen.getAllByRole('row').flatMap((row) => within(row).queryAllByRole('gridcell')[0]?.textContent ?? []);

describe('the table', () => {
  it('has only the rows in view in the document, and tells how many there are', () => {
    renderPage(<Table rows={lines(5000)} />);
    expect(screen.getByRole('grid', { name: 'Lines' }).getAttribute('aria-rowcount')).toBe('5001');
    expect(shown().length).toBeLessThan(60);
    expect(screen.getAllByRole('columnheader').map(({ textContent }) => textContent)).toEqual([
      'Name',
      'Depth',
    ]);
  });

  it('says so when it has none', () => {
    renderPage(<Table rows={[]} />);
    expect(screen.getByText('There is nothing.')).toBeTruthy();
  });

  it('is walked through with the keys, and stops at its ends', async () => {
    const { user } = renderPage(<Table rows={lines(100)} />);
    await user.click(screen.getByText('r1'));
    await user.keyboard('{ArrowDown}{ArrowDown}');
    expect(selected()).toEqual(['r3']);
    await user.keyboard('{ArrowUp}');
    expect(selected()).toEqual(['r2']);
    await user.keyboard('{Home}{ArrowUp}');
    expect(selected()).toEqual(['r0']);
    // A page is what fits into the view, less two rows.
    await user.keyboard('{PageDown}');
    expect(selected()).toEqual(['r24']);
    await user.keyboard('{PageUp}{PageUp}');
    expect(selected()).toEqual(['r0']);
  });

  it('keeps the row that it announces in the document, wherever one scrolls', async () => {
    const { user } = renderPage(<Table rows={lines(5000)} />);
    await user.click(screen.getByText('r1'));
    const body = screen.getByTestId('ledger-body');
    body.scrollTop = 90_000;
    fireEvent.scroll(body);
    await screen.findByText('r3000');
    expect(screen.queryByText('r40')).toBeNull();
    const named = screen.getByRole('grid').getAttribute('aria-activedescendant')!;
    // One name, not two of them: spaces part the names of elements.
    expect(named).not.toContain(' ');
    expect(document.getElementById(named)?.textContent).toContain('r1');
    expect(selected()).toEqual(['r1']);
  });

  it('selects a stretch with Shift and single rows with Ctrl', async () => {
    const { user } = renderPage(<Table rows={lines(10)} several />);
    await user.click(screen.getByText('r2'));
    await user.keyboard('{Shift>}');
    await user.click(screen.getByText('r4'));
    await user.keyboard('{/Shift}');
    expect(selected()).toEqual(['r2', 'r3', 'r4']);
    await user.keyboard('{Control>}');
    await user.click(screen.getByText('r3'));
    await user.click(screen.getByText('r7'));
    await user.keyboard('{/Control}');
    expect(selected()).toEqual(['r2', 'r4', 'r7']);
    await user.click(screen.getByText('r5'));
    await user.keyboard('{Shift>}{ArrowUp}{ArrowUp}{/Shift}');
    expect(selected()).toEqual(['r3', 'r4', 'r5']);
    expect(screen.getByRole('grid').getAttribute('aria-multiselectable')).toBe('true');
  });

  it('selects all with Ctrl and A, wherever that is no text in a field', async () => {
    const { user } = renderPage(<Table rows={lines(4)} several />);
    await user.click(screen.getByText('r2'));
    await user.keyboard('{Control>}a{/Control}');
    expect(selected()).toEqual(lines(4).map(({ key }) => key));
    await user.keyboard('{ArrowDown}');
    expect(selected()).toEqual(['r3']);
  });

  it('selects one row only where several make no sense', async () => {
    const { user } = renderPage(<Table rows={lines(10)} />);
    await user.click(screen.getByText('r2'));
    await user.keyboard('{Control>}');
    await user.click(screen.getByText('r4'));
    await user.keyboard('{/Control}');
    expect(selected()).toEqual(['r4']);
    await user.keyboard('{Control>}a{/Control}');
    expect(selected()).toEqual(['r4']);
  });

  it('opens and closes the rows of a tree with the keys, and goes to the row above', async () => {
    const { user } = renderPage(<Tree />);
    expect(shown()).toEqual(['top', 'a', 'b']);
    await user.click(screen.getByText('a'));
    await user.keyboard('{ArrowRight}');
    expect(shown()).toEqual(['top', 'a', 'a1', 'b']);
    await user.keyboard('{ArrowRight}');
    expect(selected()).toEqual(['a1']);
    await user.keyboard('{ArrowLeft}');
    expect(selected()).toEqual(['a']);
    await user.keyboard('{ArrowLeft}{ArrowLeft}');
    expect(selected()).toEqual(['top']);
    await user.keyboard('{ArrowLeft}');
    expect(shown()).toEqual(['top']);
    expect(screen.getByRole('row', { name: /top/ }).getAttribute('aria-expanded')).toBe('false');
  });

  it('opens a row with its arrow without selecting it', async () => {
    const { user } = renderPage(<Tree />);
    const row = screen.getByRole('row', { name: /^a|Open a|Opena/ });
    await user.click(within(row).getByRole('button', { name: 'Open' }));
    expect(shown()).toEqual(['top', 'a', 'a1', 'b']);
    expect(selected()).toEqual([]);
    expect(screen.getAllByRole('row').map((line) => line.getAttribute('aria-level'))).toEqual([
      null,
      '1',
      '2',
      '3',
      '2',
    ]);
  });

  describe('its columns', () => {
    const order = () =>
      screen
        .getAllByRole('row')
        .flatMap((row) => within(row).queryAllByRole('gridcell')[0]?.textContent ?? []);
    it('sort by a click, up, down and not at all, and say so', async () => {
      const { user, address } = renderPage(<Parts isMain />);
      const head = screen.getByRole('columnheader', { name: 'Name' });
      expect([order(), head.getAttribute('aria-sort')]).toEqual([['M10', 'M8', 'M24'], 'none']);
      await user.click(head);
      await waitFor(() => expect(order()).toEqual(['M8', 'M10', 'M24']));
      expect([address(), head.getAttribute('aria-sort')]).toEqual([
        '/projects/p/page?sort=name',
        'ascending',
      ]);
      await user.click(head);
      await waitFor(() => expect(order()).toEqual(['M24', 'M10', 'M8']));
      await user.click(head);
      await waitFor(() => expect(order()).toEqual(['M10', 'M8', 'M24']));
      expect(address()).toBe('/projects/p/page');
    });

    it('are one stop of the keyboard: arrows walk, Enter sorts, Shift with arrows widens, and it stays so', async () => {
      const first = renderPage(<Parts />);
      // After the rows, which are another.
      await first.user.tab();
      await first.user.tab();
      expect(document.activeElement?.textContent).toBe('Name');
      await first.user.keyboard('{ArrowRight}{Enter}');
      expect(order()).toEqual(['M24', 'M10', 'M8']);
      const widths = () => screen.getAllByRole('row')[0]!.style.gridTemplateColumns;
      expect(widths()).toBe('minmax(80px, 1fr) 60px');
      await first.user.keyboard('{Shift>}{ArrowRight}{ArrowRight}{ArrowLeft}{/Shift}');
      await waitFor(() => expect(widths()).toMatch(/^\d+px minmax\(\d+px, 1fr\)$/));
      const arranged = widths();
      first.unmount();
      renderPage(<Parts />);
      await waitFor(() => expect(widths()).toBe(arranged));
    });

    it('hide and show, and go back to how they were made', async () => {
      const { user } = renderPage(<Parts />);
      const titles = () => screen.getAllByRole('columnheader').map(({ textContent }) => textContent);
      await user.click(screen.getByRole('button', { name: 'Columns' }));
      await user.click(await screen.findByRole('menuitemcheckbox', { name: 'Note' }));
      await user.click(screen.getByRole('menuitemcheckbox', { name: 'Mass' }));
      await waitFor(() => expect(titles()).toEqual(['Name', 'Note']));
      await user.click(screen.getByRole('menuitem', { name: 'As they were made' }));
      await waitFor(() => expect(titles()).toEqual(['Name', 'Mass']));
    });
  });
});
