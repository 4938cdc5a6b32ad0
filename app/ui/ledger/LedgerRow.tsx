import { IconDots } from '@tabler/icons-react';
import { useState } from 'react';
import classes from './Ledger.module.css';
import type { LedgerColumn } from './useLedgerColumns';

/** For trees: depth, and whether the row is open; null for leaves. */
export interface LedgerTree<Row> {
  depth: (row: Row) => number;
  open: (row: Row) => boolean | null;
  onToggle: (row: Row, open: boolean) => void;
}

/** Rows that can be dragged to somewhere: what is carried, by its kind. */
export interface LedgerDrag<Row> {
  kind: string;
  data: (row: Row) => string;
  /** Rows that take what is dropped on them; left out where none does. */
  onto?: { takes: (row: Row) => boolean; onDrop: (data: string, row: Row) => void };
}

interface LedgerRowProps<Row> {
  id: string;
  row: Row;
  index: number;
  /** Pixels below the first row; null on paper, where rows follow each other. */
  top: number | null;
  columns: readonly LedgerColumn<Row>[];
  template: string;
  tree: LedgerTree<Row> | undefined;
  isSelected: boolean;
  isDimmed: boolean;
  drag: LedgerDrag<Row> | undefined;
  onSelect: (event: React.MouseEvent) => void;
  onOpen: (() => void) | undefined;
  onMenu: ((event: React.MouseEvent) => void) | undefined;
}

/** One row of a table. The keyboard belongs to the table. */
export function LedgerRow<Row>({
  id,
  row,
  index,
  top,
  columns,
  template,
  tree,
  isSelected,
  isDimmed,
  drag,
  onSelect,
  onOpen,
  onMenu,
}: LedgerRowProps<Row>) {
  const open = tree?.open(row) ?? null;
  const [isOver, setOver] = useState(false);
  const onto = drag?.onto?.takes(row) ? drag.onto : undefined;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the keys are handled by the scroller
    <div
      id={id}
      role="row"
      tabIndex={-1}
      aria-rowindex={index + 2}
      aria-level={tree ? tree.depth(row) + 1 : undefined}
      aria-expanded={open ?? undefined}
      aria-selected={isSelected}
      className={classes.row}
      data-dimmed={isDimmed || undefined}
      data-over={isOver || undefined}
      style={{
        gridTemplateColumns: template,
        transform: top === null ? undefined : `translateY(${top}px)`,
      }}
      onClick={onSelect}
      onDoubleClick={onOpen}
      draggable={drag ? true : undefined}
      onDragStart={(event) => drag && event.dataTransfer.setData(drag.kind, drag.data(row))}
      onDragOver={(event) => {
        if (!onto || !event.dataTransfer.types.includes(drag!.kind)) return;
        // What is around it would take it, too.
        event.stopPropagation();
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        if (!onto || !event.dataTransfer.types.includes(drag!.kind)) return;
        event.stopPropagation();
        event.preventDefault();
        setOver(false);
        onto.onDrop(event.dataTransfer.getData(drag!.kind), row);
      }}
    >
      {columns.map(({ key: column, cell, numeric }, n) => (
        <span
          key={column}
          role="gridcell"
          className={numeric ? classes.numeric : classes.cell}
          style={tree && n === 0 ? { paddingLeft: 8 + tree.depth(row) * 16 } : undefined}
        >
          {tree && n === 0 && (
            <button
              type="button"
              tabIndex={-1}
              className={classes.toggle}
              data-leaf={open === null || undefined}
              aria-label={open ? 'Close' : 'Open'}
              aria-hidden={open === null}
              onClick={(event) => {
                event.stopPropagation();
                if (open !== null) tree.onToggle(row, !open);
              }}
            >
              <svg
                viewBox="0 0 10 10"
                width="10"
                height="10"
                aria-hidden="true"
                data-open={open || undefined}
              >
                <path
                  d="M3 1.5 7 5 3 8.5"
                  fill="none"
                  stroke="currentColor"
                  strokeWidth="1.6"
                  strokeLinecap="round"
                  strokeLinejoin="round"
                />
              </svg>
            </button>
          )}
          {cut(cell(row))}
        </span>
      ))}
      {onMenu && (
        // For the pointer; the keyboard has the menu key.
        <button
          type="button"
          tabIndex={-1}
          aria-hidden
          className={classes.rowMenu}
          title="What can be done"
          onClick={onMenu}
        >
          <IconDots size={15} />
        </button>
      )}
    </div>
  );
}

/** A text that is too long ends in three dots, whatever stands beside it. */
function cut(content: React.ReactNode): React.ReactNode {
  return typeof content === 'string' ? <span className={classes.text}>{content}</span> : content;
}
