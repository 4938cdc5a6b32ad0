/** What a row is sorted by; null stands last, whichever way. */
export type SortValue = string | number | null;

const WORDS = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

/**
 * Rows in the order of a value. Of a tree, the rows below one row are ordered among themselves and stay below it.
 * @param depth how deep a row lies; its parent is the next one above that is less deep
 */
export function sortedRows<Row>(
  rows: readonly Row[],
  value: (row: Row) => SortValue,
  isDescending: boolean,
  depth: (row: Row) => number = () => 0,
): Row[] {
  const compare = (a: Row, b: Row): number => {
    const [left, right] = [value(a), value(b)];
    if (left === null || right === null) return Number(left === null) - Number(right === null);
    const order =
      typeof left === 'number' && typeof right === 'number'
        ? left - right
        : WORDS.compare(String(left), String(right));
    return isDescending ? -order : order;
  };
  interface Branch {
    row: Row;
    below: Branch[];
  }
  const top: Branch[] = [];
  const above: { depth: number; below: Branch[] }[] = [];
  for (const row of rows) {
    const own = depth(row);
    while (above.length > 0 && above.at(-1)!.depth >= own) above.pop();
    const branch: Branch = { row, below: [] };
    (above.at(-1)?.below ?? top).push(branch);
    above.push({ depth: own, below: branch.below });
  }
  const found: Row[] = [];
  const walk = (branches: Branch[]) => {
    for (const { row, below } of branches.sort((a, b) => compare(a.row, b.row))) {
      found.push(row);
      walk(below);
    }
  };
  walk(top);
  return found;
}
