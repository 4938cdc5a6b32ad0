import { useCallback, useMemo, useState } from 'react';
import type { SplitComponentView } from '#core/jobs/split/view';
import type { SplitBody } from '#server/views/operations/split-view';
import { useStageSelection } from '../../stage/useStageSelection';
import { useView } from '../../ui/address/useView';
import { keysNow, pastedNames, positionsIn, positionsOf, type SplitRow, splitRows } from './rows';

/** The rows of a split, which of them are open and selected, and which is being typed in. */
export function useSplitRows(
  bodies: readonly SplitBody[],
  components: readonly SplitComponentView[],
  query: string,
) {
  const [view, change] = useView();
  const [focusKey, setFocusKey] = useState<string | null>(null);
  const [colourKey, setColourKey] = useState<string | null>(null);
  const opened = useMemo(() => view.get('open')?.split(' ') ?? [], [view]);
  // Kept between renders: the stage is lit anew only when the rows are others.
  const rows = useMemo(
    () => splitRows(bodies, components, (key) => !opened.includes(key), query),
    [bodies, components, opened, query],
  );
  const keys = useMemo(() => keysNow(rows, view.get('sel')?.split(' ').filter(Boolean) ?? []), [rows, view]);
  const selectedKey = keys.at(-1) ?? null;
  const shownComponents = rows.flatMap((row) => (row.kind === 'component' ? [row] : []));
  const selectedRows = useMemo(() => rows.filter(({ key }) => keys.includes(key)), [rows, keys]);
  const lit = useMemo(() => new Set(positionsIn(selectedRows)), [selectedRows]);
  const selectedComponents = selectedRows.flatMap((row) => (row.kind === 'component' ? [row] : []));
  const toRename = selectedComponents.length > 1 ? selectedComponents : shownComponents;
  const idOf = (position: number) => String(bodies[position]!.id);
  const rowsOf = useCallback((id: string) => positionsOf(bodies, [id]), [bodies]);
  const selection = useStageSelection({
    keys,
    onSelect: (next) => change({ sel: next.join(' ') }),
    units: [...lit].map(idOf),
    rowsOf,
    others: () => bodies.flatMap((_, n) => (lit.has(n) ? [] : [idOf(n)])),
  });
  return {
    rows,
    keys,
    selectedKey,
    lit,
    selection,
    opened,
    onToggle: (key: string, isOpen: boolean) =>
      change({ open: (isOpen ? [...opened, key] : opened.filter((other) => other !== key)).join(' ') }),
    shownComponents,
    toRename,
    joins: joinsOf(selectedRows, lit.size),
    /** A row of several that are selected speaks for all of them. */
    meant: (positions: readonly number[]) =>
      positions.some((position) => lit.has(position)) ? [...lit] : positions,
    focusKey,
    setFocusKey,
    colourKey,
    setColourKey,
    /** Goes on typing in another row. */
    move: (from: string, step: number) => {
      const at = shownComponents.findIndex(({ key }) => key === from);
      const next = shownComponents[at + step];
      if (!next) return;
      setFocusKey(next.key);
      change({ sel: next.key });
    },
    /** Names that were pasted into a row, and which component gets which. */
    pasted: (from: string, text: string) => {
      const at = shownComponents.findIndex(({ key }) => key === from);
      return pastedNames(text).flatMap((name, n) => {
        const row = shownComponents[at + n];
        return row ? [[row.component, name] as const] : [];
      });
    },
  };
}

/** Whether the selection can become one component, or is one that can be taken apart. */
function joinsOf(rows: readonly SplitRow[], count: number): 'join' | 'apart' | null {
  const [first] = rows;
  if (rows.length === 1 && first?.kind === 'component') return first.component.isJoined ? 'apart' : null;
  return count > 1 && rows.every(({ kind }) => kind !== 'left') ? 'join' : null;
}

export type SplitRows = ReturnType<typeof useSplitRows>;
