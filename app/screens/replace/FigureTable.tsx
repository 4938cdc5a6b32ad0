import { Table } from '@mantine/core';
import type { PartFigures } from '#core/jobs/place/part-figures';
import { sidesOf } from '#core/product/box';
import { count } from '../../ui/format';
import { useMeasures } from '../../ui/measures/useMeasures';
import classes from './Replace.module.css';

interface FigureTableProps {
  was: PartFigures | null;
  now: PartFigures | null;
}

/** How what goes and what comes differ. */
export function FigureTable({ was, now }: FigureTableProps) {
  const measures = useMeasures();
  if (!was || !now) return null;
  const signed = (value: number, words: string) => (value > 0 ? `+${words}` : words);
  const [sides, newSides] = [was.box && sidesOf(was.box), now.box && sidesOf(now.box)];
  const corner = (box: PartFigures['box']) => (box ? measures.box(box.slice(0, 3)) : '—');
  const lines = [
    {
      what: 'Size',
      was: sides ? measures.box(sides) : '—',
      now: newSides ? measures.box(newSides) : '—',
      off:
        sides && newSides
          ? newSides
              .map((side, n) => side - sides[n]!)
              .map((by) => signed(by, measures.figure(by, 'mm')))
              .join(', ')
          : '',
    },
    {
      what: 'Least corner from the origin',
      was: corner(was.box),
      now: corner(now.box),
      off: '',
    },
    {
      what: 'Volume',
      was: measures.volume(was.volume),
      now: measures.volume(now.volume),
      off:
        was.volume > 0
          ? signed(now.volume - was.volume, measures.percent((now.volume - was.volume) / was.volume, 2))
          : '',
    },
    { what: 'Bodies', was: count(was.bodies), now: count(now.bodies), off: '' },
    { what: 'Unit of the file', was: was.unit ?? '—', now: now.unit ?? '—', off: '' },
  ];
  return (
    <div className={classes.figures}>
      <Table withRowBorders={false} aria-label="How they differ">
        <Table.Thead>
          <Table.Tr>
            <Table.Td />
            <Table.Th scope="col">{was.name}</Table.Th>
            <Table.Th scope="col">{now.name}</Table.Th>
            <Table.Th scope="col">Difference</Table.Th>
          </Table.Tr>
        </Table.Thead>
        <Table.Tbody>
          {lines.map(({ what, was: before, now: after, off }) => (
            <Table.Tr key={what} data-differs={before !== after || undefined}>
              <Table.Th scope="row">{what}</Table.Th>
              <Table.Td>{before}</Table.Td>
              <Table.Td>{after}</Table.Td>
              <Table.Td>{before === after ? '' : off}</Table.Td>
            </Table.Tr>
          ))}
        </Table.Tbody>
      </Table>
    </div>
  );
}
