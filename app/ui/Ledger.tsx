import { IconDots } from '@tabler/icons-react';
import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useId, useRef, useState } from 'react';
import classes from './Ledger.module.css';
import { ColumnsMenu, LedgerHead } from './LedgerHead';
import { RowMenu } from './RowMenu';
import { type LedgerColumn, useLedgerColumns } from './useLedgerColumns';
import { useNewest } from './useNewest';
import { usePrinting } from './usePrinting';

export type { LedgerColumn };

interface LedgerProps<Row> {
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
  /** For trees: depth, and whether the row is open; null for leaves. */
  tree?: {
    depth: (row: Row) => number;
    open: (row: Row) => boolean | null;
    onToggle: (row: Row, open: boolean) => void;
  };
  dimmed?: (row: Row) => boolean;
  /** Rows that can be dragged to somewhere: what is carried, by its kind. */
  drag?: { kind: string; data: (row: Row) => string };
  /** What can be done with a row, or with all that are selected, as entries of a menu: by the right button or the menu key. */
  menu?: (rows: Row[]) => React.ReactNode;
  /** What other keys do with the row that is selected, by the name of the key. */
  keys?: { readonly [key: string]: (row: Row) => void };
  /** Whether the order of its rows lives in the address of the page: for the one table that the page is about. */
  isMain?: boolean;
  empty: React.ReactNode;
}

const ROW_HEIGHT = 30;
const NONE: readonly string[] = [];

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

  // Keys may come faster than the selection finds its way through the address: they count from here.
  const cursor = useRef(current);
  useEffect(() => {
    cursor.current = current;
  }, [current]);

  const chosen = new Set(several?.keys ?? (selected === null ? [] : [selected]));
  // So may clicks.
  const picked = useNewest(several?.keys ?? NONE);
  const selectSeveral = (keys: string[]) => {
    picked.current = keys;
    several?.onSelect(keys);
  };
  /** Where a stretch of rows that is being selected began. */
  const anchor = useRef<string | null>(null);
  const select = (
    index: number,
    { shiftKey, ctrlKey, metaKey }: Pick<MouseEvent, 'shiftKey' | 'ctrlKey' | 'metaKey'>,
  ) => {
    const row = rows[index]!;
    const key = keyOf(row);
    if (several && shiftKey) {
      anchor.current ??= selected;
      const from = Math.max(
        0,
        rows.findIndex((other) => keyOf(other) === anchor.current),
      );
      const stretch = rows.slice(Math.min(from, index), Math.max(from, index) + 1).map(keyOf);
      selectSeveral([...stretch.filter((other) => other !== key), key]);
      return;
    }
    anchor.current = key;
    if (several && (ctrlKey || metaKey)) {
      const others = picked.current.filter((other) => other !== key);
      selectSeveral(picked.current.includes(key) ? others : [...others, key]);
    } else {
      picked.current = [key];
      onSelect(row);
    }
  };

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
    const at = cursor.current;
    const row = rows[at];
    const go = (to: number) => {
      const index = Math.max(0, Math.min(rows.length - 1, to));
      const target = rows[index];
      if (target) {
        cursor.current = index;
        select(index, event);
      }
      event.preventDefault();
    };
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 300) / ROW_HEIGHT) - 2);
    if (event.key === 'ArrowDown') go(at + 1);
    else if (event.key === 'ArrowUp') go(at - 1);
    else if (event.key === 'PageDown') go(at + page);
    else if (event.key === 'PageUp') go(at - page);
    else if (event.key === 'Home') go(0);
    else if (event.key === 'End') go(rows.length - 1);
    else if (tree && row && event.key === 'ArrowRight') {
      if (tree.open(row) === false) tree.onToggle(row, true);
      else if (tree.open(row)) go(at + 1);
      event.preventDefault();
    } else if (tree && row && event.key === 'ArrowLeft') {
      if (tree.open(row)) tree.onToggle(row, false);
      else {
        const depth = tree.depth(row);
        let parent = at - 1;
        while (parent >= 0 && tree.depth(rows[parent]!) >= depth) parent--;
        if (parent >= 0) go(parent);
      }
      event.preventDefault();
    } else if (row && keys?.[event.key] && isOfRow(event)) {
      keys[event.key]!(row);
      event.preventDefault();
    }
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
            <div className={classes.empty}>{empty}</div>
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
                const open = tree?.open(row) ?? null;
                return (
                  // biome-ignore lint/a11y/useKeyWithClickEvents: the keys are handled by the scroller
                  <div
                    key={key}
                    id={`${id}-${index}`}
                    role="row"
                    tabIndex={-1}
                    aria-rowindex={index + 2}
                    aria-level={tree ? tree.depth(row) + 1 : undefined}
                    aria-expanded={open ?? undefined}
                    aria-selected={chosen.has(key)}
                    className={classes.row}
                    data-dimmed={dimmed?.(row) || undefined}
                    style={{
                      gridTemplateColumns: template,
                      transform: isPrinting ? undefined : `translateY(${start}px)`,
                    }}
                    onClick={(event) => select(index, event)}
                    draggable={drag ? true : undefined}
                    onDragStart={(event) => drag && event.dataTransfer.setData(drag.kind, drag.data(row))}
                  >
                    {shown.map(({ key: column, cell, numeric }, n) => (
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
                        {cell(row)}
                      </span>
                    ))}
                    {menu && (
                      // For the pointer; the keyboard has the menu key.
                      <button
                        type="button"
                        tabIndex={-1}
                        aria-hidden
                        className={classes.rowMenu}
                        title="What can be done"
                        onClick={openMenu}
                      >
                        <IconDots size={15} />
                      </button>
                    )}
                  </div>
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

/** Whether a key was pressed on a row, and not on a button or a field in one. */
function isOfRow({ target, currentTarget }: React.KeyboardEvent): boolean {
  return target === currentTarget || (target as HTMLElement).getAttribute('role') === 'row';
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
