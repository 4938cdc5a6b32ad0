import type { BillDifference } from '#core/jobs/bom/compare-bills';
import { plural } from '../../ui/format';
import classes from './Bill.module.css';

const WORDS: { readonly [difference in BillDifference['difference']]: string } = {
  added: 'added',
  gone: 'gone',
  quantity: 'quantity',
  material: 'material',
};

/** What is another than in an older moment. */
export function Differences({ differences }: { differences: readonly BillDifference[] }) {
  if (differences.length === 0) return <p className={classes.differences}>Nothing differs from then.</p>;
  return (
    <details className={classes.differences} open>
      <summary>{plural(differences.length, 'difference')} from then</summary>
      <ul>
        {differences.map(({ difference, id, name, file, before, after }) => (
          <li key={`${difference} ${file} ${id} ${name}`}>
            <span className={classes.difference} data-what={difference}>
              {WORDS[difference]}
            </span>
            {name}
            {id !== '' && id !== name && <span className="muted"> {id}</span>}
            <span className={classes.change}>{changeInWords(difference, before, after)}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}

function changeInWords(
  difference: BillDifference['difference'],
  before: string | number | null,
  after: string | number | null,
): string {
  if (difference === 'added') return `${after} placed`;
  if (difference === 'gone') return `${before} placed before`;
  return `${before ?? 'none'} → ${after ?? 'none'}`;
}
