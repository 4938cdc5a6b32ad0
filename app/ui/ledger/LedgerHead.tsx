import { ActionIcon, Menu, VisuallyHidden } from '@mantine/core';
import { IconArrowDown, IconArrowUp, IconColumns3 } from '@tabler/icons-react';
import { useRef, useState } from 'react';
import { plural } from '../format';
import classes from './Ledger.module.css';
import { saveText } from './save-text';
import type { LedgerColumn, useLedgerColumns } from './useLedgerColumns';

interface LedgerHeadProps<Row> {
  arranged: ReturnType<typeof useLedgerColumns<Row>>;
  headRef: React.Ref<HTMLDivElement>;
}

/**
 * The head of a table: one stop of the keyboard. The arrows walk along it, Enter sorts, Shift with the arrows widens and narrows;
 * with the mouse a click sorts and the edges are dragged.
 */
export function LedgerHead<Row>({ arranged, headRef }: LedgerHeadProps<Row>) {
  const { table, shown, template, leastWidth, dragEdge, widen } = arranged;
  const row = useRef<HTMLDivElement>(null);
  const [stop, setStop] = useState(0);
  const cells = () => [...(row.current?.querySelectorAll<HTMLElement>('[role="columnheader"]') ?? [])];
  const drawn = () =>
    new Map(
      cells().map((cell) => [cell.dataset.column!, Math.round(cell.getBoundingClientRect().width)] as const),
    );
  const onKeyDown = (event: React.KeyboardEvent, at: number) => {
    if (event.target !== event.currentTarget) return;
    const { key } = shown[at]!;
    const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (step !== 0 && event.shiftKey) widen(key, step, drawn());
    else if (step !== 0) cells()[at + step]?.focus();
    else if (event.key === 'Enter' || event.key === ' ') table.getColumn(key)?.toggleSorting();
    else return;
    event.preventDefault();
  };
  return (
    <div className={classes.headFrame}>
      <div className={classes.headScroll} ref={headRef}>
        <div
          className={classes.head}
          role="row"
          ref={row}
          style={{ gridTemplateColumns: template, minWidth: leastWidth }}
        >
          {shown.map(({ key, title, name, numeric, sort }, n) => {
            const sorted = table.getColumn(key)?.getIsSorted() ?? false;
            const Arrow = sorted === 'desc' ? IconArrowDown : IconArrowUp;
            return (
              <span
                key={key}
                role="columnheader"
                data-column={key}
                tabIndex={Math.min(stop, shown.length - 1) === n ? 0 : -1}
                aria-sort={
                  sort && (sorted === false ? 'none' : sorted === 'asc' ? 'ascending' : 'descending')
                }
                className={numeric ? classes.numeric : classes.heading}
                data-sorts={sort ? true : undefined}
                onFocus={(event) => event.target === event.currentTarget && setStop(n)}
                onClick={() => sort && table.getColumn(key)?.toggleSorting()}
                onKeyDown={(event) => onKeyDown(event, n)}
              >
                {title === '' ? <VisuallyHidden>{name}</VisuallyHidden> : title}
                {sorted !== false && <Arrow size={12} className={classes.arrow} aria-hidden="true" />}
                <span
                  className={classes.edge}
                  aria-hidden="true"
                  onClick={(event) => event.stopPropagation()}
                  onMouseDown={(event) => dragEdge(key, event, drawn())}
                />
              </span>
            );
          })}
        </div>
      </div>
    </div>
  );
}

interface ColumnsMenuProps<Row> extends Omit<LedgerHeadProps<Row>, 'headRef'> {
  /** Names the file that is saved. */
  label: string;
  columns: readonly LedgerColumn<Row>[];
  /** The rows that are taken along: those that are selected, or all. */
  rows: readonly Row[];
}

/** Which columns are shown, and taking the table along. */
export function ColumnsMenu<Row>({ label, columns, arranged, rows }: ColumnsMenuProps<Row>) {
  const { table, shown, isAsMade, asMade } = arranged;
  if (columns.length <= 2) return null;
  // What writes such texts is fetched when somebody wants one.
  const textOf = async (delimiter: '\t' | ',') =>
    (await import('./table-text')).tableText(shown, rows, delimiter);
  return (
    <Menu position="bottom-end" closeOnItemClick={false}>
      <Menu.Target>
        <ActionIcon
          className={classes.columnsButton}
          variant="subtle"
          color="gray"
          size={24}
          aria-label="Columns"
        >
          <IconColumns3 size={14} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        {columns.slice(1).map(({ key, title, name }) => (
          <Menu.CheckboxItem
            key={key}
            checked={shown.some((column) => column.key === key)}
            onChange={() => table.getColumn(key)?.toggleVisibility()}
          >
            {name ?? title}
          </Menu.CheckboxItem>
        ))}
        <Menu.Divider />
        <Menu.Item disabled={isAsMade} onClick={asMade}>
          As they were made
        </Menu.Item>
        <Menu.Divider />
        <Menu.Label>{plural(rows.length, 'row')} for other programs</Menu.Label>
        <Menu.Item
          closeMenuOnClick
          onClick={() => void textOf('\t').then((text) => navigator.clipboard?.writeText(text))}
        >
          Copy as a table
        </Menu.Item>
        <Menu.Item
          closeMenuOnClick
          onClick={() => void textOf(',').then((text) => saveText(`${label}.csv`, text))}
        >
          Save as CSV
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
