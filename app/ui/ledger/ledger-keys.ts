import type { LedgerTree } from './LedgerRow';

interface Walking<Row> {
  rows: readonly Row[];
  /** Position of the row that is selected now. */
  cursor: React.RefObject<number>;
  select: (index: number, event: React.KeyboardEvent) => void;
  /** Left out where one row at most is selected. */
  selectAll: (() => void) | undefined;
  /** Of rows that are in view. */
  page: () => number;
  tree: LedgerTree<Row> | undefined;
  keys: { readonly [key: string]: (row: Row) => void } | undefined;
}

/** What the keys do in a table: they walk, open and close, and what else its rows can do. */
export function walkLedger<Row>(
  event: React.KeyboardEvent,
  { rows, cursor, select, selectAll, page: rowsInView, tree, keys }: Walking<Row>,
): void {
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
  const page = rowsInView();
  if (selectAll && event.key === 'a' && (event.ctrlKey || event.metaKey) && isOfRow(event)) {
    selectAll();
    event.preventDefault();
  } else if (event.key === 'ArrowDown') go(at + 1);
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
}

/** Whether a key was pressed on a row, and not on a button or a field in one. */
export function isOfRow({ target, currentTarget }: React.KeyboardEvent): boolean {
  return target === currentTarget || (target as HTMLElement).getAttribute('role') === 'row';
}
