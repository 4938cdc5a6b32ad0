import { useEffect, useRef } from 'react';
import { toggledKey } from './toggled-key';
import { useNewest } from './useNewest';

interface Selecting<Row> {
  rows: readonly Row[];
  keyOf: (row: Row) => string;
  /** Position of the row that is selected; -1 for none. */
  current: number;
  selected: string | null;
  onSelect: (row: Row) => void;
  several: { keys: readonly string[]; onSelect: (keys: string[]) => void } | undefined;
}

const NONE: readonly string[] = [];

/** Selecting rows of a table: one, one more with Ctrl, a stretch with Shift, all with Ctrl+A. What follows faster than the address adds up. */
export function useLedgerSelection<Row>({
  rows,
  keyOf,
  current,
  selected,
  onSelect,
  several,
}: Selecting<Row>) {
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
      selectSeveral(toggledKey(picked.current, key));
    } else {
      picked.current = [key];
      onSelect(row);
    }
  };
  // The row that was selected stays so.
  const selectAll =
    several &&
    (() => {
      const keys = rows.map(keyOf).filter((key) => key !== selected);
      selectSeveral(rows.length > keys.length ? [...keys, selected!] : keys);
    });
  return { chosen, select, selectAll, cursor };
}
