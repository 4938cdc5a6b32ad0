import { Menu } from '@mantine/core';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import { renderPage } from '../../testing/render';
import { Ledger } from './Ledger';

const ROWS = ['lid', 'base', 'worm'];

function Table() {
  const [keys, setKeys] = useState<string[]>(['lid', 'base']);
  return (
    <Ledger
      label="Parts"
      columns={[{ key: 'name', title: 'Name', width: '1fr', cell: (row: string) => row }]}
      rows={ROWS}
      keyOf={(row) => row}
      selected={keys.at(-1) ?? null}
      onSelect={(row) => setKeys([row])}
      several={{ keys, onSelect: setKeys }}
      menu={(rows) => <Menu.Item>{`Weigh ${rows.join(' and ')}`}</Menu.Item>}
      empty=""
    />
  );
}

describe('the menu of a row', () => {
  it('is about all that are selected when it is asked for on one of them, else about that row, which is selected', async () => {
    renderPage(<Table />);
    fireEvent.contextMenu(screen.getByRole('row', { name: 'lid' }));
    await screen.findByRole('menuitem', { name: 'Weigh lid and base' });
    fireEvent.contextMenu(screen.getByRole('row', { name: 'worm' }));
    await screen.findByRole('menuitem', { name: 'Weigh worm' });
    expect(screen.getByRole('row', { name: 'worm' }).getAttribute('aria-selected')).toBe('true');
  });

  it('is opened by the button of a row, which is selected then', async () => {
    const { user } = renderPage(<Table />);
    await user.click(screen.getByRole('row', { name: 'worm' }).querySelector('button')!);
    await screen.findByRole('menuitem', { name: 'Weigh worm' });
  });

  it('is opened by the menu key on the row that is selected, and closed by Escape', async () => {
    const { user } = renderPage(<Table />);
    fireEvent.contextMenu(screen.getByTestId('ledger'));
    await screen.findByRole('menuitem', { name: 'Weigh lid and base' });
    await user.keyboard('{Escape}');
    await waitFor(() => expect(screen.queryByRole('menuitem')).toBeNull());
  });
});

describe('the rows of a table', () => {
  it('are announced as one walks: the table is one stop, and names the row that is selected', async () => {
    const { user } = renderPage(<Table />);
    await user.tab();
    const table = screen.getByRole('grid', { name: 'Parts' });
    expect(document.activeElement).toBe(table);
    const announced = () =>
      document.getElementById(table.getAttribute('aria-activedescendant')!)?.textContent;
    expect(announced()).toContain('base');
    await user.keyboard('{ArrowDown}');
    expect(announced()).toContain('worm');
  });

  it('are all there on paper', () => {
    const many = Array.from({ length: 3000 }, (_, n) => `row ${n}`);
    renderPage(
      <Ledger
        label="Many"
        columns={[{ key: 'name', title: 'Name', width: '1fr', cell: (row: string) => row }]}
        rows={many}
        keyOf={(row) => row}
        selected={null}
        onSelect={() => {}}
        empty=""
      />,
    );
    expect(document.querySelectorAll('[role=row]').length).toBeLessThan(200);
    fireEvent(window, new Event('beforeprint'));
    expect(document.querySelectorAll('[role=row]').length).toBe(3001);
    fireEvent(window, new Event('afterprint'));
    expect(document.querySelectorAll('[role=row]').length).toBeLessThan(200);
  });
});
