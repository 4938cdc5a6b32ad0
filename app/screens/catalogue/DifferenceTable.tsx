import type { PublishedFacts } from '#core/project/change/published-facts';
import { useMeasures } from '../../ui/measures/useMeasures';
import classes from './Catalogue.module.css';
import { differences } from './differences';

interface DifferenceTableProps {
  /** What is published; null where nothing is. */
  before: PublishedFacts | null;
  after: PublishedFacts;
}

/** What the page of something will say, beside what it says. */
export function DifferenceTable({ before, after }: DifferenceTableProps) {
  const told = differences(before ?? after, after, useMeasures());
  return (
    <table className={classes.difference}>
      <thead>
        <tr>
          <th scope="col">Its page says</th>
          {before && <th scope="col">As published</th>}
          <th scope="col">{before ? 'Then' : ''}</th>
        </tr>
      </thead>
      <tbody>
        {told.map((fact) => (
          <tr key={fact.name} data-changed={!fact.isSame || undefined}>
            <th scope="row">{fact.name}</th>
            {before && <td>{fact.before}</td>}
            <td>{before && fact.isSame ? <span className="muted">the same</span> : fact.after}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
