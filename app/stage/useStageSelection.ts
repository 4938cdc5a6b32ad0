import { useMemo, useState } from 'react';
import { useView } from '../ui/address/useView';
import { toggledKey } from '../ui/ledger/toggled-key';
import { useNewest } from '../ui/ledger/useNewest';

/** What a page knows of what is selected in its table and on its stage. */
interface Selectable {
  /** Keys of what is selected, the newest last. */
  keys: readonly string[];
  /** Puts another selection into the address. */
  onSelect(keys: readonly string[]): void;
  /** What is hidden together with the selection, as the address names it. */
  units: readonly string[];
  /** The rows of the stage that one of these stands for. Kept between renders. */
  rowsOf(unit: string): Iterable<number>;
  /** What is hidden when the selection is shown alone. */
  others(): readonly string[];
}

/** Selecting, hiding and showing alone, in a table and on the stage beside it; all of it stands in the address. */
export function useStageSelection({ keys, onSelect, units, rowsOf, others }: Selectable) {
  const [view, change] = useView();
  const [fitRequest, setFitRequest] = useState(0);
  const newest = useNewest<readonly string[]>(keys);
  const select = (next: readonly string[]) => {
    newest.current = next;
    onSelect(next);
  };
  const written = view.get('hidden');
  const hiddenUnits = useMemo(() => new Set(written?.split(' ').filter(Boolean)), [written]);
  const hidden = useMemo(
    () => new Set([...hiddenUnits].flatMap((unit) => [...rowsOf(unit)])),
    [hiddenUnits, rowsOf],
  );
  const hide = (some: Iterable<string>) => change({ hidden: [...some].join(' ') || null });
  const goTo = () => setFitRequest((count) => count + 1);
  const isHidden = units.length > 0 && units.every((unit) => hiddenUnits.has(unit));
  return {
    select,
    /** A pick on the stage: alone, or added to what is selected, or taken out of that. */
    pick: (key: string | null, isAdded: boolean) => {
      if (!isAdded) select(key === null ? [] : [key]);
      else if (key !== null) select(toggledKey(newest.current, key));
    },
    /** Rows of the stage that are hidden, and how many names for them stand in the address. */
    hidden,
    hiddenCount: hiddenUnits.size,
    /** Whether all that is selected is hidden. */
    isHidden,
    toggleHidden: () => {
      const after = new Set(hiddenUnits);
      for (const unit of units) {
        if (isHidden) after.delete(unit);
        else after.add(unit);
      }
      hide(after);
    },
    showAlone: () => {
      if (keys.length === 0) return;
      hide(others());
      // What is shown alone fills the picture.
      goTo();
    },
    showAll: () => hide([]),
    /** Increased to move near what is selected. */
    fitRequest,
    goTo,
  };
}
