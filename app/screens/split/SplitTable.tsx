import type { SplitChoices } from '#core/jobs/split/choices';
import type { SplitComponentView } from '#core/jobs/split/view';
import type { SplitBody } from '#server/views/operations/split-view';
import { Ledger } from '../../ui/ledger/Ledger';
import { useMeasures } from '../../ui/measures/useMeasures';
import layout from '../../ui/operation/OperationPage.module.css';
import { columnsFor } from './columns';
import { positionsIn, type SplitRow } from './rows';
import type { useSplitChoices } from './useSplitChoices';
import type { SplitRows } from './useSplitRows';

interface SplitTableProps {
  table: SplitRows;
  choose: Pick<ReturnType<typeof useSplitChoices>, 'setNames' | 'setColour' | 'setBodyName' | 'setChosen'>;
  choices: SplitChoices;
  components: readonly SplitComponentView[];
  bodies: readonly SplitBody[];
  /** Positions of the bodies that are split off now. */
  inPlan: readonly number[];
  mayEdit: boolean;
  /** What can be done with the selected rows. */
  menu: React.ReactNode;
  empty: string;
}

/** The components that come of a split, with their bodies: named, coloured, chosen in place. */
export function SplitTable({
  table,
  choose,
  choices,
  components,
  bodies,
  inPlan,
  mayEdit,
  menu,
  empty,
}: SplitTableProps) {
  const { meant, focusKey, setFocusKey, colourKey, setColourKey, move } = table;
  const measures = useMeasures();
  const setChosen = (positions: readonly number[], isChosen: boolean) =>
    choose.setChosen(meant(positions), isChosen, inPlan);
  const typeName = ({ key }: SplitRow) => setFocusKey(key);
  const toggleChosen = (row: SplitRow) => {
    const [first] = positionsIn([row]);
    const isChosen = choices.bodies?.includes(bodies[first!]!.id) ?? row.kind !== 'left';
    setChosen(positionsIn([row]), !isChosen);
  };
  const columns = columnsFor({
    choices,
    components,
    mayEdit,
    measures,
    focusKey,
    setFocusKey,
    leave: (key) => setFocusKey((now) => (now === key ? null : now)),
    setName: (component, name) => choose.setNames([[component, name]]),
    colourKey,
    setColourKey,
    setColour: (positions, colour) => choose.setColour(meant(positions), colour),
    setBodyName: choose.setBodyName,
    setChosen,
    isMany: (positions) => meant(positions).length > positions.length,
    move,
    paste: (from, text) => choose.setNames(table.pasted(from, text)),
    bodies,
  });
  return (
    <div className={layout.table}>
      <Ledger
        label="Components"
        columns={columns}
        rows={table.rows}
        keyOf={({ key }) => key}
        selected={table.selectedKey}
        onSelect={({ key }) => table.selection.select([key])}
        several={{ keys: table.keys, onSelect: table.selection.select }}
        tree={{
          depth: ({ kind }) => (kind === 'body' ? 1 : 0),
          open: (row) =>
            row.kind === 'component' && row.bodies.length > 1 ? table.opened.includes(row.key) : null,
          onToggle: ({ key }, open) => table.onToggle(key, open),
        }}
        dimmed={(row) =>
          row.kind === 'left' || positionsIn([row]).every((position) => table.selection.hidden.has(position))
        }
        keys={{
          ' ': toggleChosen,
          Enter: typeName,
          h: table.selection.toggleHidden,
          c: ({ key }) => mayEdit && table.setColourKey(key),
        }}
        menu={() => menu}
        empty={empty}
      />
    </div>
  );
}
