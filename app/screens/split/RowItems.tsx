import { Menu } from '@mantine/core';
import { Link } from 'react-router';
import type { SplitRows } from './useSplitRows';

interface RowItemsProps {
  table: SplitRows;
  /** Where the one body that is selected is cut; null where there is none, or several. */
  cutAddress: string | null;
  mayEdit: boolean;
}

/** What can be done with the rows that are selected. */
export function RowItems({ table, cutAddress, mayEdit }: RowItemsProps) {
  const { selection, selectedKey } = table;
  return (
    <>
      <Menu.Item onClick={selection.goTo}>Go to it</Menu.Item>
      <Menu.Item onClick={selection.toggleHidden}>{selection.isHidden ? 'Show' : 'Hide'}</Menu.Item>
      {mayEdit && selectedKey !== null && (
        <>
          <Menu.Item onClick={() => table.setFocusKey(selectedKey)}>Type its name</Menu.Item>
          <Menu.Item onClick={() => table.setColourKey(selectedKey)}>Give it a colour</Menu.Item>
        </>
      )}
      {cutAddress && (
        <Menu.Item component={Link} to={cutAddress}>
          Cut this body
        </Menu.Item>
      )}
    </>
  );
}
