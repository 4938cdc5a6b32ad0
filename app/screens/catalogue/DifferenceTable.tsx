import type { PublishedFacts } from '#core/project/change/published-facts';
import { useMeasures } from '../../ui/measures/useMeasures';
import classes from './Catalogue.module.css';
import { differences } from './differences';

interface DifferenceTableProps {
  /** What is published; null where nothing is. */
  before: PublishedFacts | null;
  after: PublishedFacts;
}

/** What the page of something will say; of what is published, only what it will say otherwise. */
export function DifferenceTable({ before, after }: DifferenceTableProps) {
  const all = differences(before ?? after, after, useMeasures());
  const told = before ? all.filter(({ isSame }) => !isSame) : all;
  if (told.length === 0) return <p className="muted">Its page says the same then.</p>;
  return (
    <table className={classes.difference}>
      <thead>
        <tr>
          <th scope="col">Its page</th>
          {before && <th scope="col">As published</th>}
          <th scope="col">{before ? 'Then' : 'Says'}</th>
        </tr>
      </thead>
      <tbody>
        {told.map((fact) => (
          <tr key={fact.name}>
            <th scope="row">{fact.name}</th>
            {before && <td>{fact.before}</td>}
            <td>{fact.after}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
