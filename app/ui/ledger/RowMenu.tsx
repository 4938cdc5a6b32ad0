import { Menu } from '@mantine/core';
import classes from './Ledger.module.css';

/** A menu at a place of the window, for what was pressed there. */
export function RowMenu({
  at: [x, y],
  onClose,
  children,
}: {
  /** Pixels of the window. */
  at: readonly [x: number, y: number];
  onClose: () => void;
  children: React.ReactNode;
}) {
  return (
    <Menu opened onClose={onClose} position="bottom-start" offset={2} returnFocus withinPortal>
      <Menu.Target>
        <button
          type="button"
          tabIndex={-1}
          aria-label="What can be done"
          className={classes.menuPlace}
          style={{ left: x, top: y }}
        />
      </Menu.Target>
      <Menu.Dropdown>{children}</Menu.Dropdown>
    </Menu>
  );
}
