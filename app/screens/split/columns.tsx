import { Checkbox } from '@mantine/core';
import { densityOf } from '#core/product/materials';
import { plural } from '../../ui/format';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { ColourCell } from './ColourCell';
import type { ColumnContext } from './column-context';
import { NameCell } from './NameCell';
import type { SplitRow } from './rows';
import classes from './Split.module.css';

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
  const { measures } = context;
  const massOf = (row: SplitRow, space: number): number | null => {
    const first = row.kind === 'component' ? row.bodies[0]! : row.body;
    const density = densityOf(choices.materials[first.id]);
    return density === null ? null : (space * density) / 1e6;
  };
  // One unit for the whole column; the largest body may be a component of its own.
  const spaces = bodies.map(({ volume }) => volume);
  const space = measures.volumes(spaces);
  const weight = measures.masses(
    bodies.map(({ id, volume }) => ((volume ?? 0) * (densityOf(choices.materials[id]) ?? 0)) / 1e6),
  );
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
          <NameCell
            row={row}
            context={context}
            label={label}
            positions={positions}
            isChosen={isChosen(positions, row.kind !== 'left')}
          />
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
      title: `Box, ${measures.preferences.length}`,
      width: '116px',
      numeric: true,
      cell: (row) => {
        if (row.kind === 'component' && row.component.isJoined)
          return <span className="muted">{plural(row.bodies.length, 'body', 'bodies')}</span>;
        const { size, error } = row.kind === 'component' ? row.bodies[0]! : row.body;
        if (error) return <span title={error}>no shape</span>;
        return size ? measures.box(size).replace(/ \S+$/, '') : '';
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
        const grams = massOf(row, known);
        if (grams === null) return space.words(known);
        const first = row.kind === 'component' ? row.bodies[0]! : row.body;
        return <span title={choices.materials[first.id]}>{weight.words(grams)}</span>;
      },
    },
  ];
}
