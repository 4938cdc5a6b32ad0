import { Checkbox } from '@mantine/core';
import type { SplitChoices } from '#core/jobs/split/choices';
import type { SplitOutlineView } from '#core/jobs/split/view';
import { densityOf } from '#core/product/materials';
import type { SplitView } from '#server/views/operations/split-view';
import { mass, plural, volume } from '../../ui/format';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { ColourCell } from './ColourCell';
import { NameField } from './NameField';
import type { SplitRow } from './rows';
import classes from './Split.module.css';

/** What the cells of the split table show and call. */
interface ColumnContext {
  choices: SplitChoices;
  components: readonly SplitOutlineView['components'][number][];
  bodies: readonly SplitView['bodies'][number][];
  mayEdit: boolean;
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

/** Of one piece of a component, mm³; null while the kernel has not measured all of it. */
function volumeOf({ bodies, component }: Extract<SplitRow, { kind: 'component' }>): number | null {
  if (!component.isJoined) return bodies[0]!.volume;
  return bodies.reduce<number | null>(
    (sum, { volume: own }) => (sum === null || own === null ? null : sum + own),
    0,
  );
}

/** The columns of the split table: a row's name is typed in its cell. */
export function columnsFor(context: ColumnContext): LedgerColumn<SplitRow>[] {
  const { choices, components, bodies } = context;
  const weighs = Object.keys(choices.materials).length > 0;
  // A tick answers at once; the rows follow when the plan has been made anew.
  const chosen = choices.bodies === null ? null : new Set(choices.bodies);
  const isChosen = (positions: readonly number[], asPlanned: boolean) =>
    chosen === null ? asPlanned : positions.some((position) => chosen.has(bodies[position]!.id));
  const everywhere = bodies.map((_, position) => position);
  const planned = new Set(components.flatMap((component) => component.bodies));
  const count = everywhere.filter((position) => isChosen([position], planned.has(position))).length;
  return [
    {
      key: 'name',
      title: (
        <span className={`${classes.nameCell} ${classes.allBodies}`}>
          <Checkbox
            aria-label="Split off all bodies"
            title={count === bodies.length ? 'Leave all bodies out' : 'Split off all bodies'}
            checked={count === bodies.length}
            indeterminate={count > 0 && count < bodies.length}
            onChange={() => context.setChosen(everywhere, count < bodies.length)}
          />
          Component
        </span>
      ),
      name: 'Component',
      sort: (row) => (row.kind === 'component' ? row.component.name : row.body.name),
      width: 'minmax(190px, 2fr)',
      cell: (row) => {
        const positions = row.kind === 'component' ? row.component.bodies : [row.position];
        const label = row.kind === 'component' ? row.component.name : row.body.name || `Body #${row.body.id}`;
        return (
          <span className={classes.nameCell}>
            <Checkbox
              aria-label={`Split off ${label}`}
              checked={isChosen(positions, row.kind !== 'left')}
              tabIndex={-1}
              title={context.isMany(positions) ? 'For all selected rows' : undefined}
              onClick={(event) => event.stopPropagation()}
              onChange={(event) => context.setChosen(positions, event.currentTarget.checked)}
            />
            {row.kind === 'component' ? (
              <NameField
                name={row.component.name}
                problem={row.component.problem}
                typed={choices.names[bodies[row.component.bodies[0]!]!.id] !== undefined}
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
                name={choices.bodyNames[row.body.id] ?? row.body.name}
                problem={null}
                typed={choices.bodyNames[row.body.id] !== undefined}
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
      },
    },
    {
      key: 'colour',
      title: '',
      name: 'Colour',
      width: '26px',
      cell: (row) => {
        const positions = row.kind === 'component' ? row.component.bodies : [row.position];
        const first = bodies[positions[0]!]!;
        const chosenColour = choices.colours[first.id];
        return (
          <ColourCell
            colour={chosenColour ?? first.colour}
            isChosen={chosenColour !== undefined}
            label={row.kind === 'component' ? row.component.name : row.body.name || `body #${row.body.id}`}
            disabled={!context.mayEdit}
            onColour={(colour) => context.setColour(positions, colour)}
            isOpen={context.colourKey === row.key}
            onOpen={(open) => context.setColourKey(open ? row.key : null)}
          />
        );
      },
    },
    {
      key: 'quantity',
      title: 'Qty',
      width: '34px',
      numeric: true,
      cell: (row) => (row.kind === 'component' ? (row.component.isJoined ? 1 : row.bodies.length) : ''),
      sort: (row) => (row.kind === 'component' ? (row.component.isJoined ? 1 : row.bodies.length) : null),
    },
    {
      key: 'file',
      title: 'File',
      width: 'minmax(124px, 1.3fr)',
      sort: (row) => (row.kind === 'component' ? (row.component.file.split('/').at(-1) ?? '') : null),
      cell: (row) => {
        // Before there is a plan nothing is known of what stays.
        if (row.kind === 'left')
          return components.length > 0 && <span className={classes.bodyName}>stays in the source</span>;
        if (row.kind === 'body')
          return <span className="muted">{row.body.kind === 'surface' ? 'open surface' : ''}</span>;
        const mirror = row.component.mirrorOf === null ? null : components[row.component.mirrorOf];
        return (
          <span className={classes.file} title={row.component.file}>
            <span className="mono">
              {choices.inFile ? 'in the assembly' : row.component.file.split('/').at(-1)}
            </span>
            {mirror && <span className={classes.mirror}>mirror of {mirror.name}</span>}
          </span>
        );
      },
    },
    {
      key: 'size',
      title: 'Box, mm',
      width: '116px',
      numeric: true,
      cell: (row) => {
        if (row.kind === 'component' && row.component.isJoined)
          return <span className="muted">{plural(row.bodies.length, 'body', 'bodies')}</span>;
        const { size, error } = row.kind === 'component' ? row.bodies[0]! : row.body;
        if (error) return <span title={error}>no shape</span>;
        return size ? size.map((side) => side.toFixed(0)).join(' × ') : '';
      },
    },
    {
      key: 'volume',
      title: weighs ? 'Mass' : 'Volume',
      width: '78px',
      numeric: true,
      sort: (row) => (row.kind === 'component' ? volumeOf(row) : row.body.volume),
      cell: (row) => {
        const known = row.kind === 'component' ? volumeOf(row) : row.body.volume;
        if (known === null || known === 0) return '';
        const first = row.kind === 'component' ? row.bodies[0]! : row.body;
        const material = choices.materials[first.id];
        const density = densityOf(material);
        return density === null ? (
          volume(known)
        ) : (
          <span title={material}>{mass((known * density) / 1e6)}</span>
        );
      },
    },
  ];
}
