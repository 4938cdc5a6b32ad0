import type { BillRow } from '#core/jobs/bom/bill';

/** What lines can be put together by. */
export const GROUPINGS = ['none', 'material', 'use', 'folder'] as const;
export type Grouping = (typeof GROUPINGS)[number];

/** A line of the table: a row of the bill, or the heading of a group of them. */
export type BillLine =
  | { key: string; depth: number; row: BillRow; group?: undefined; inner: number }
  | {
      key: string;
      depth: 0;
      row?: undefined;
      group: string;
      inner: number;
      total: number;
      /** Of all in it, kg; null while something of it is not known. */
      mass: number | null;
    };

/**
 * The lines of a bill: level by level as they stand, or under headings by what they have in common.
 * @param fits whether a row is wanted; of a bill by levels, what is above it comes along
 */
export function linesOf(
  rows: readonly BillRow[],
  isByLevel: boolean,
  grouping: Grouping,
  fits: ((row: BillRow) => boolean) | null,
): BillLine[] {
  if (grouping !== 'none')
    return groupedLines(
      rows.filter((row) => fits?.(row) ?? true),
      grouping,
    );
  const depths = rows.map(({ level }) => (isByLevel ? level - 1 : 0));
  const wanted = fits && wantedWithAbove(rows, depths, fits);
  return rows.flatMap((row, n): BillLine[] => {
    if (wanted && !wanted.has(n)) return [];
    const inner = (depths[n + 1] ?? 0) > depths[n]! ? 1 : 0;
    return [{ key: String(n), depth: depths[n]!, row, inner }];
  });
}

function wantedWithAbove(
  rows: readonly BillRow[],
  depths: readonly number[],
  fits: (row: BillRow) => boolean,
): Set<number> {
  const wanted = new Set<number>();
  const above: number[] = [];
  for (const [n, row] of rows.entries()) {
    above.length = depths[n]!;
    above.push(n);
    if (fits(row)) for (const one of above) wanted.add(one);
  }
  return wanted;
}

function groupedLines(rows: readonly BillRow[], grouping: Grouping): BillLine[] {
  const groups = new Map<string, { row: BillRow; n: number }[]>();
  for (const [n, row] of rows.entries()) {
    const group = groupOf(row, grouping);
    groups.set(group, [...(groups.get(group) ?? []), { row, n }]);
  }
  return [...groups]
    .sort(([a], [b]) => a.localeCompare(b, 'en', { numeric: true }))
    .flatMap(([group, members]): BillLine[] => [
      {
        key: `group ${group}`,
        depth: 0,
        group,
        inner: members.length,
        total: members.reduce((sum, { row }) => sum + row.total, 0),
        mass: members.reduce<number | null>(
          (sum, { row }) => (sum === null || row.totalMass === null ? null : sum + row.totalMass),
          0,
        ),
      },
      ...members.map(({ row, n }): BillLine => ({ key: String(n), depth: 1, row, inner: 0 })),
    ]);
}

function groupOf({ material, use, file }: BillRow, grouping: Grouping): string {
  if (grouping === 'material') return material ?? 'No material';
  if (grouping === 'use') return use ?? 'Not said';
  const slash = file.lastIndexOf('/');
  return slash < 0 ? 'The top folder' : file.slice(0, slash);
}

/** Lines without those that a closed line holds. */
export function openLines(lines: readonly BillLine[], closed: ReadonlySet<string>): BillLine[] {
  let hiddenBelow = Infinity;
  return lines.filter(({ key, depth }) => {
    if (depth > hiddenBelow) return false;
    hiddenBelow = closed.has(key) ? depth : Infinity;
    return true;
  });
}
