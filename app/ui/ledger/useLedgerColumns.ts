import { useLocalStorage } from '@mantine/hooks';
import {
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  functionalUpdate,
  rowSortingFeature,
  type Table,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { useMemo, useState } from 'react';
import { flushSync } from 'react-dom';
import { useView } from '../address/useView';
import { type SortValue, sortedRows } from './sorted-rows';

/** A column: its heading, its width as CSS grid track, and what stands in it. */
export interface LedgerColumn<Row> {
  key: string;
  title: React.ReactNode;
  /** What it is called where it is chosen, when its heading says nothing. */
  name?: string;
  width: string;
  numeric?: boolean;
  cell: (row: Row) => React.ReactNode;
  /** What its rows can be sorted by; other programs get it, too. */
  sort?: (row: Row) => SortValue;
  /** What other programs get, where it is not what the rows are sorted by. */
  text?: (row: Row) => SortValue;
  /** Of the values that other programs get. */
  unit?: string;
  /** It is shown when somebody asks for it. */
  isExtra?: boolean;
}

const FEATURES = tableFeatures({
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  rowSortingFeature,
});

/** How somebody has arranged the columns of one table, kept by this browser. */
interface Arrangement {
  /** Pixels, by column; none while every column has the width that it was made with. */
  sizes: { [column: string]: number };
  visible: { [column: string]: boolean };
}

const AS_MADE: Arrangement = { sizes: {}, visible: {} };

/** Pixels: narrower is no column, and a step of the keyboard. */
const [NARROWEST, STEP] = [36, 16];

/** Between the columns and at the ends of a row, as the style sheet has it; pixels. */
const [GAP, ENDS] = [8, 22];

interface Wanted<Row> {
  /** Names the arrangement. */
  label: string;
  columns: readonly LedgerColumn<Row>[];
  rows: readonly Row[];
  depth: ((row: Row) => number) | undefined;
  /** The order lives in the address of the page, or in the table alone. */
  sortIn: 'address' | 'table';
}

/** The columns of a table as they are arranged, and its rows as they are sorted. */
export function useLedgerColumns<Row>({ label, columns, rows, depth, sortIn }: Wanted<Row>) {
  const [arrangement, setArrangement] = useLocalStorage<Arrangement>({
    key: `stonetray columns ${label}`,
    defaultValue: AS_MADE,
  });
  const [view, change] = useView();
  const [own, setOwn] = useState('');
  const order = (sortIn === 'address' ? view.get('sort') : own) ?? '';
  const setOrder = (next: string) => (sortIn === 'address' ? change({ sort: next }) : setOwn(next));
  const sorting = useMemo(
    () => (order === '' ? [] : [{ id: order.replace(/^-/, ''), desc: order.startsWith('-') }]),
    [order],
  );
  const { sizes, visible } = arrangement;
  const visibility = useMemo(
    () => ({
      ...Object.fromEntries(columns.map(({ key, isExtra = false }) => [key, !isExtra])),
      ...visible,
    }),
    [columns, visible],
  );
  const table = useTable({
    features: FEATURES,
    data: NO_ROWS,
    columns: useMemo(
      () =>
        columns.map(({ key, sort }, n) => ({
          id: key,
          accessorFn: () => null,
          enableSorting: sort !== undefined,
          enableHiding: n > 0,
          minSize: NARROWEST,
        })),
      [columns],
    ),
    columnResizeMode: 'onChange',
    manualSorting: true,
    sortDescFirst: false,
    state: { columnSizing: sizes, columnVisibility: visibility, sorting },
    onColumnSizingChange: (update) =>
      setArrangement((before) => ({ ...before, sizes: functionalUpdate(update, before.sizes) })),
    onColumnVisibilityChange: (update) =>
      setArrangement((before) => ({ ...before, visible: functionalUpdate(update, visibility) })),
    onSortingChange: (update) => {
      const [first] = functionalUpdate(update, sorting);
      setOrder(first ? `${first.desc ? '-' : ''}${first.id}` : '');
    },
  });

  const shown = columns.filter(({ key }) => visibility[key]);
  const isArranged = shown.some(({ key }) => sizes[key] !== undefined);
  const tracks = shown.map(({ key, width }, n) => {
    const size = sizes[key];
    if (size === undefined) return width;
    // The last one takes what is left over.
    return n === shown.length - 1 ? `minmax(${size}px, 1fr)` : `${size}px`;
  });
  const least = tracks.reduce((sum, track) => sum + Number(/\d+/.exec(track)?.[0] ?? 0), 0);

  const by = columns.find(({ key }) => key === sorting[0]?.id)?.sort;
  const isDescending = sorting[0]?.desc ?? false;
  const sorted = useMemo(
    () => (by ? sortedRows(rows, by, isDescending, depth) : rows),
    [rows, by, isDescending, depth],
  );

  /** From now on every column has the width that it has been drawn with. */
  const holdWidths = (drawn: ReadonlyMap<string, number>) => {
    if (!isArranged) flushSync(() => table.setColumnSizing(Object.fromEntries(drawn)));
  };
  return {
    table: table as LedgerTable,
    shown,
    rows: sorted,
    template: tracks.join(' '),
    /** Narrower, and the table is scrolled sideways; pixels. */
    leastWidth: least + GAP * (shown.length - 1) + ENDS,
    /** Begins to drag the right edge of a column. */
    dragEdge: (column: string, event: React.MouseEvent, drawn: ReadonlyMap<string, number>) => {
      holdWidths(drawn);
      const header = table.getFlatHeaders().find(({ id }) => id === column);
      header?.getResizeHandler()(event.nativeEvent);
    },
    /** Makes a column wider, or narrower, by a step. */
    widen: (column: string, by: 1 | -1, drawn: ReadonlyMap<string, number>) => {
      holdWidths(drawn);
      table.setColumnSizing((before) => ({
        ...before,
        [column]: Math.max(NARROWEST, (before[column] ?? drawn.get(column) ?? NARROWEST) + by * STEP),
      }));
    },
    isAsMade: !isArranged && Object.keys(visible).length === 0,
    asMade: () => setArrangement(AS_MADE),
  };
}

/** The library sorts and draws no rows here: it keeps how the columns are arranged. */
const NO_ROWS: object[] = [];

/** What a table's head has to know of the columns. */
export type LedgerTable = Pick<Table<typeof FEATURES, object>, 'getColumn'>;
