import type { StructureViewRow } from '#server/views/structure/structure-view';
import { plural } from '../../ui/format';
import type { Measures } from '../../ui/measures/measures';

/** What several components are together, each as often as it is placed. */
export function severalInWords(rows: readonly StructureViewRow[], { mass, volume }: Measures): string {
  const bodies = rows.reduce((sum, { total, totals }) => sum + total * totals.bodies, 0);
  const sumOf = (what: 'volume' | 'mass') =>
    rows.every(({ totals }) => totals[what] !== null)
      ? rows.reduce((sum, { total, totals }) => sum + total * totals[what]!, 0)
      : null;
  const [space, weight] = [sumOf('volume'), sumOf('mass')];
  return [
    `${plural(rows.length, 'row')} selected: ${plural(bodies, 'body', 'bodies')}`,
    space && volume(space),
    weight && mass(weight),
  ]
    .filter(Boolean)
    .join(', ');
}
