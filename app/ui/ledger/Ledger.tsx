import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useId, useRef, useState } from 'react';
import classes from './Ledger.module.css';
import { ColumnsMenu, LedgerHead } from './LedgerHead';
import { type LedgerDrag, LedgerRow, type LedgerTree } from './LedgerRow';
import { isOfRow, walkLedger } from './ledger-keys';
import { RowMenu } from './RowMenu';
import { type LedgerColumn, useLedgerColumns } from './useLedgerColumns';
import { useLedgerSelection } from './useLedgerSelection';
import { usePrinting } from './usePrinting';

export type { LedgerColumn };

export interface LedgerProps<Row> {
  label: string;
  columns: LedgerColumn<Row>[];
  rows: readonly Row[];
  keyOf: (row: Row) => string;
  selected: string | null;
  onSelect: (row: Row) => void;
  /**
   * Lets several rows be selected, with Ctrl or Shift held down: keys of all of them, the one that was added last (it
   * is `selected`) at the end.
   */
  several?: { keys: readonly string[]; onSelect: (keys: string[]) => void };
  tree?: LedgerTree<Row>;
  dimmed?: (row: Row) => boolean;
  drag?: LedgerDrag<Row>;
  /** What can be done with a row, or with all that are selected, as entries of a menu: by the right button or the menu key. */
  menu?: (rows: Row[]) => React.ReactNode;
  /** What a double click on a row does with it. */
  onOpen?: (row: Row) => void;
  /** What other keys do with the row that is selected, by the name of the key. */
  keys?: { readonly [key: string]: (row: Row) => void };
  /** Whether the order of its rows lives in the address of the page: for the one table that the page is about. */
  isMain?: boolean;
  empty: React.ReactNode;
}

const ROW_HEIGHT = 30;

/**
 * The table of the product: dense rows, only those in view in the document; all of them on paper. For the keyboard it is one stop:
 * arrows walk, and the row that is selected is announced. Left and right close and open the rows of a tree.
 */
export function Ledger<Row>({
  label,
  columns,
  rows: given,
  keyOf,
  selected,
  onSelect,
  several,
  tree,
  dimmed,
  drag,
  menu,
  keys,
  onOpen,
  isMain = false,
  empty,
}: LedgerProps<Row>) {
  const scroller = useRef<HTMLDivElement>(null);
  const id = useId();
  const isPrinting = usePrinting();
  const head = useRef<HTMLDivElement>(null);
  const sortIn = isMain ? 'address' : 'table';
  const arranged = useLedgerColumns({ label, columns, rows: given, depth: tree?.depth, sortIn });
  const { shown, rows, template, leastWidth } = arranged;
  const current = rows.findIndex((row) => keyOf(row) === selected);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
    // The row that is selected stays in the document wherever one has scrolled: the table names it to screen readers.
    rangeExtractor: (range) => {
      const inView = defaultRangeExtractor(range);
      return current < 0 || inView.includes(current) ? inView : [...inView, current].sort((a, b) => a - b);
    },
  });

  // Also when the table has become smaller, as by what is shown about the row below it.
  const height = virtual.scrollRect?.height;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another height is another view
  useEffect(() => {
    if (current >= 0) virtual.scrollToIndex(current, { align: 'auto' });
  }, [current, virtual, height]);

  const { chosen, select, selectAll, cursor } = useLedgerSelection({
    rows,
    keyOf,
    current,
    selected,
    onSelect,
    several,
  });

  const [opened, setOpened] = useState<{ at: [number, number]; rows: Row[] } | null>(null);
  const openMenu = (event: React.MouseEvent) => {
    event.stopPropagation();
    const pressed = (event.target as HTMLElement).closest<HTMLElement>('[role="row"]');
    // The menu key has no place of its own: the row that is selected has.
    const element =
      pressed ?? scroller.current?.querySelector<HTMLElement>('[role="row"][aria-selected="true"]');
    const row = rows[Number(element?.getAttribute('aria-rowindex')) - 2];
    if (!menu || !element || row === undefined) return;
    event.preventDefault();
    const key = keyOf(row);
    if (!chosen.has(key)) onSelect(row);
    const { left, bottom } = element.getBoundingClientRect();
    setOpened({
      at: pressed ? [event.clientX, event.clientY] : [left + 24, bottom],
      rows: chosen.has(key) ? rows.filter((other) => chosen.has(keyOf(other))) : [row],
    });
  };

  // What is in view; on paper all.
  const drawn = isPrinting
    ? rows.map((_, index) => ({ index, start: index * ROW_HEIGHT }))
    : virtual.getVirtualItems();
  const isDrawn = drawn.some(({ index }) => index === current);

  const onKeyDown = (event: React.KeyboardEvent) => {
    // Buttons of the head and fields in rows have keys of their own.
    if (!isOfRow(event) && !scroller.current?.contains(event.target as Node)) return;
    const page = () => Math.max(1, Math.floor((scroller.current?.clientHeight ?? 300) / ROW_HEIGHT) - 2);
    walkLedger(event, { rows, cursor, select, selectAll, page, tree, keys });
  };

  return (
    <div className={classes.frame}>
      {/* biome-ignore-start lint/a11y/useAriaPropsSupportedByRole: both roles, grid and treegrid, take a label */}
      {/* biome-ignore-start lint/a11y/noStaticElementInteractions: both have rows that are walked with the keys */}
      <div
        className={classes.ledger}
        data-menu={menu ? true : undefined}
        role={tree ? 'treegrid' : 'grid'}
        aria-label={label}
        aria-rowcount={rows.length + 1}
        aria-multiselectable={several ? true : undefined}
        aria-activedescendant={isDrawn ? `${id}-${current}` : undefined}
        tabIndex={0}
        onKeyDown={onKeyDown}
        onContextMenu={menu && openMenu}
        data-testid="ledger"
      >
        {/* biome-ignore-end lint/a11y/useAriaPropsSupportedByRole: see above */}
        {/* biome-ignore-end lint/a11y/noStaticElementInteractions: see above */}
        <LedgerHead arranged={arranged} headRef={head} />
        <div
          ref={scroller}
          className={classes.body}
          tabIndex={-1}
          onScroll={({ currentTarget }) => {
            head.current!.scrollLeft = currentTarget.scrollLeft;
          }}
          onPointerOver={showWhole}
          role="rowgroup"
          data-testid="ledger-body"
        >
          {rows.length === 0 ? (
            <div className={classes.empty} role="row">
              <div role="gridcell">{empty}</div>
            </div>
          ) : (
            <div
              style={{
                height: isPrinting ? undefined : virtual.getTotalSize(),
                minWidth: leastWidth,
                position: 'relative',
              }}
            >
              {drawn.map(({ index, start }) => {
                const row = rows[index]!;
                const key = keyOf(row);
                return (
                  <LedgerRow
                    key={key}
                    id={`${id}-${index}`}
                    row={row}
                    index={index}
                    top={isPrinting ? null : start}
                    columns={shown}
                    template={template}
                    tree={tree}
                    isSelected={chosen.has(key)}
                    isDimmed={dimmed?.(row) ?? false}
                    drag={drag}
                    onSelect={(event) => select(index, event)}
                    onOpen={onOpen && (() => onOpen(row))}
                    onMenu={menu && openMenu}
                  />
                );
              })}
            </div>
          )}
        </div>
      </div>
      <ColumnsMenu
        label={label}
        columns={columns}
        arranged={arranged}
        rows={chosen.size > 1 ? rows.filter((row) => chosen.has(keyOf(row))) : rows}
      />
      {menu && opened && (
        <RowMenu at={opened.at} onClose={() => setOpened(null)}>
          {menu(opened.rows)}
        </RowMenu>
      )}
    </div>
  );
}

/** What a cell cannot show is there when the pointer rests on it. */
function showWhole({ target }: React.MouseEvent): void {
  const cell = (target as HTMLElement).closest<HTMLElement>('[role="gridcell"]');
  if (!cell || cell.querySelector('[title]')) return;
  const isCut = [cell, ...cell.querySelectorAll<HTMLElement>('*')].some(
    ({ scrollWidth, clientWidth }) => scrollWidth > clientWidth + 1 && clientWidth > 0,
  );
  if (isCut) cell.title = cell.textContent ?? '';
  else cell.removeAttribute('title');
}
