import classes from './giving.module.css';

/** One thing in figures: what it is, what it was (nothing if it was not), what it becomes, and which part of it is left. */
export interface Figure {
  what: string;
  from: string | null;
  to: string;
  left?: number;
}

/** Before and after in figures, across both stages. */
export function FiguresStrip({ label, figures }: { label: string; figures: readonly Figure[] }) {
  return (
    <dl className={classes.strip} aria-label={label}>
      {figures.map(({ what, from, to, left }) => (
        <div key={what}>
          <dt>{what}</dt>
          <dd>
            {from !== null && <span>{from} → </span>}
            <b>{to}</b>
          </dd>
          {left !== undefined && (
            <i style={{ width: `${Math.min(100, Math.max(1, 100 * left))}%` }} aria-hidden />
          )}
        </div>
      ))}
    </dl>
  );
}
