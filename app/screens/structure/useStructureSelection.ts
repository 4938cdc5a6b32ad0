import { useCallback, useMemo } from 'react';
import type { FileToWorkOn } from '#core/accepts';
import type { StructureView, StructureViewRow } from '#server/views/structure/structure-view';
import { useStageSelection } from '../../stage/useStageSelection';
import { useView } from '../../ui/address/useView';
import { usePageCommands } from '../../ui/frame/page-commands';
import { useSelection } from '../../ui/project/useSelection';
import { below, rowsBeside } from './rows';

/** What is selected in the structure, with all that lies below it, the files that it is in, and what can be done with it. */
export function useStructureSelection(rows: StructureView['rows'], files: StructureView['files']) {
  const [view, change] = useView();
  const selectedKey = view.get('sel');
  const also = view.get('also');
  /** Keys of all rows that are selected, the last one at the end. */
  const chosenKeys = useMemo(() => {
    if (selectedKey === null) return [];
    const others = also?.split(' ').filter((key) => key !== selectedKey) ?? [];
    return [...others, selectedKey];
  }, [selectedKey, also]);
  const places = useMemo(() => new Map(rows.map(({ key }, n) => [key, n])), [rows]);
  const chosen = useMemo(() => chosenKeys.flatMap((key) => places.get(key) ?? []), [places, chosenKeys]);
  const selected = chosen.length === 1 ? rows[chosen[0]!] : undefined;
  const selectedFiles = useMemo(
    () =>
      filesOf(
        files,
        chosen.map((n) => rows[n]!),
      ),
    [files, rows, chosen],
  );
  useSelection(selectedFiles);
  const lit = useMemo(() => new Set(chosen.flatMap((n) => [...below(rows, n)])), [rows, chosen]);
  const rowsOf = useCallback(
    (key: string) => {
      const n = places.get(key);
      return n === undefined ? [] : below(rows, n);
    },
    [places, rows],
  );
  const selection = useStageSelection({
    keys: chosenKeys,
    onSelect: (keys) => change({ sel: keys.at(-1) ?? null, also: keys.slice(0, -1).join(' ') }),
    units: chosenKeys,
    rowsOf,
    others: () => rowsBeside(rows, chosen, lit),
  });
  const { hidden, isHidden, toggleHidden, showAlone } = selection;
  const hiddenRowKeys = useMemo(() => new Set([...hidden].map((n) => rows[n]!.key)), [rows, hidden]);
  const has = chosen.length > 0;
  usePageCommands([
    has && {
      label: isHidden ? 'Show' : 'Hide',
      description: 'What is selected, on the model',
      run: toggleHidden,
    },
    has && { label: 'Show alone', description: 'What is selected, on the model', run: showAlone },
    selection.hiddenCount > 0 && { label: 'Show all', description: 'On the model', run: selection.showAll },
  ]);
  return { selection, selectedKey, chosenKeys, chosen, selected, selectedFiles, lit, hiddenRowKeys };
}

/** The files that components are in, as they can be worked on; none for one whose file is missing. */
export function filesOf(files: StructureView['files'], rows: readonly StructureViewRow[]): FileToWorkOn[] {
  return [...new Set(rows.map(({ file }) => file))].flatMap((path) => files[path] ?? []);
}
