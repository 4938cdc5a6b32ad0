import type { SplitChoices } from '#core/jobs/split/choices';
import type { SplitOutlineView } from '#core/jobs/split/view';
import type { SplitView } from '#server/views/operations/split-view';
import type { Measures } from '../../ui/measures/measures';

/** What the cells of the split table show and call. */
export interface ColumnContext {
  choices: SplitChoices;
  components: readonly SplitOutlineView['components'][number][];
  bodies: readonly SplitView['bodies'][number][];
  mayEdit: boolean;
  measures: Measures;
  focusKey: string | null;
  setFocusKey: (key: string) => void;
  /** The name of a row is no longer typed in. */
  leave: (key: string) => void;
  /** The row whose colours are offered. */
  colourKey: string | null;
  setColourKey: (key: string | null) => void;
  setColour: (positions: readonly number[], colour: string | null) => void;
  setBodyName: (position: number, name: string) => void;
  setName: (component: SplitOutlineView['components'][number], name: string) => void;
  setChosen: (positions: readonly number[], chosen: boolean) => void;
  /** Whether the row is one of several that are selected, and speaks for all of them. */
  isMany: (positions: readonly number[]) => boolean;
  move: (from: string, step: number) => void;
  paste: (from: string, text: string) => void;
}
