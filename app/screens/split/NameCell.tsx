import { Checkbox } from '@mantine/core';
import type { ColumnContext } from './column-context';
import { NameField } from './NameField';
import type { SplitRow } from './rows';
import classes from './Split.module.css';

interface NameCellProps {
  row: SplitRow;
  context: ColumnContext;
  label: string;
  /** Positions of the bodies that the row stands for. */
  positions: readonly number[];
  /** They are split off. */
  isChosen: boolean;
}

/** Whether a row is split off, and its name where one can be typed. */
export function NameCell({ row, context, label, positions, isChosen }: NameCellProps) {
  return (
    <span className={classes.nameCell}>
      <Checkbox
        aria-label={`Split off ${label}`}
        checked={isChosen}
        tabIndex={-1}
        title={context.isMany(positions) ? 'For all selected rows' : undefined}
        onClick={(event) => event.stopPropagation()}
        onChange={(event) => context.setChosen(positions, event.currentTarget.checked)}
      />
      {row.kind === 'component' ? (
        <NameField
          name={row.component.name}
          problem={row.component.problem}
          typed={context.choices.names[context.bodies[row.component.bodies[0]!]!.id] !== undefined}
          disabled={!context.mayEdit}
          focused={context.focusKey === row.key}
          label={`Name of component ${row.number + 1}`}
          onFocus={() => context.setFocusKey(row.key)}
          onLeave={() => context.leave(row.key)}
          onName={(name) => context.setName(row.component, name)}
          onMove={(step) => context.move(row.key, step)}
          onPaste={(text) => context.paste(row.key, text)}
        />
      ) : row.kind === 'body' ? (
        <NameField
          name={context.choices.bodyNames[row.body.id] ?? row.body.name}
          problem={null}
          typed={context.choices.bodyNames[row.body.id] !== undefined}
          disabled={!context.mayEdit}
          focused={context.focusKey === row.key}
          label={`Name of body ${row.body.name || row.body.id}`}
          onFocus={() => context.setFocusKey(row.key)}
          onLeave={() => context.leave(row.key)}
          onName={(name) => context.setBodyName(row.position, name)}
          onMove={() => {}}
          onPaste={() => {}}
        />
      ) : (
        <span className={classes.bodyName}>{label}</span>
      )}
    </span>
  );
}
