import type { BillRow } from './bill';

/** What differs between two bills of materials: of components that stand once in each. */
export interface BillDifference {
  difference: 'added' | 'gone' | 'quantity' | 'material';
  id: string;
  name: string;
  file: string;
  before: string | number | null;
  after: string | number | null;
}

/**
 * What was added, what is gone, and what is placed more or less often or made of something else. A component is known by its file and its id,
 * and where its file has another name by its id alone.
 */
export function differencesOf(before: readonly BillRow[], after: readonly BillRow[]): BillDifference[] {
  const older = new Map(before.map((row) => [keyOf(row), row]));
  const unmatched: BillRow[] = [];
  const pairs: [BillRow, BillRow][] = [];
  for (const row of after) {
    const same = older.get(keyOf(row));
    if (!same) unmatched.push(row);
    else pairs.push([same, row]);
    older.delete(keyOf(row));
  }
  const byId = uniqueById([...older.values()]);
  const newById = uniqueById(unmatched);
  const added: BillRow[] = [];
  for (const row of unmatched) {
    const moved = newById.get(row.id) === row ? byId.get(row.id) : undefined;
    if (!moved) added.push(row);
    else pairs.push([moved, row]);
    if (moved) older.delete(keyOf(moved));
  }
  return [
    ...added.map((row) => differenceOf('added', row, null, row.total)),
    ...[...older.values()].map((row) => differenceOf('gone', row, row.total, null)),
    ...pairs.flatMap(([old, row]) => [
      ...(old.total === row.total ? [] : [differenceOf('quantity', row, old.total, row.total)]),
      ...(old.material === row.material ? [] : [differenceOf('material', row, old.material, row.material)]),
    ]),
  ];
}

function differenceOf(
  difference: BillDifference['difference'],
  { id, name, file }: BillRow,
  before: string | number | null,
  after: string | number | null,
): BillDifference {
  return { difference, id, name, file, before, after };
}

function keyOf({ file, id, name }: BillRow): string {
  return JSON.stringify([file, id || name]);
}

/** Rows by ids that only one of them has. */
function uniqueById(rows: readonly BillRow[]): Map<string, BillRow> {
  const found = new Map<string, BillRow | null>();
  for (const row of rows) if (row.id !== '') found.set(row.id, found.has(row.id) ? null : row);
  return new Map([...found].flatMap(([id, row]) => (row ? [[id, row] as const] : [])));
}
