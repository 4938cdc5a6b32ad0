import classes from './WhatWillChange.module.css';

interface WhatWillChangeProps {
  /** What happens, in one line each. */
  lines: React.ReactNode[];
  /** Shown when there is nothing to do yet. */
  empty: string;
  /** It says why there is nothing that could be done. */
  isRefused?: boolean;
  warnings?: string[];
  /** The lines belong to choices of a moment ago. */
  isStale?: boolean;
  children: React.ReactNode;
}

/** The strip along the bottom of every page that changes something: the plan, then the one button. */
export function WhatWillChange({
  lines,
  empty,
  warnings = [],
  isStale = false,
  isRefused = false,
  children,
}: WhatWillChangeProps) {
  return (
    <section className={classes.strip} aria-label="What will change">
      <div className={classes.plan} data-stale={isStale} aria-busy={isStale}>
        <h2 className={classes.title}>What will change</h2>
        {lines.length === 0 ? (
          <p className={classes.empty} role={isRefused ? 'alert' : undefined}>
            {empty}
          </p>
        ) : (
          <ul className={classes.lines}>
            {lines.map((line, n) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: lines have no identity of their own
              <li key={n}>{line}</li>
            ))}
          </ul>
        )}
        {warnings.map((warning) => (
          <p key={warning} className={classes.warning}>
            {warning}
          </p>
        ))}
      </div>
      <div className={classes.actions}>{children}</div>
    </section>
  );
}
