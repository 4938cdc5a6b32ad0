import type { ReactNode } from 'react';
import type { PlannedView } from '#server/views/operations/planned-view';
import { plural } from '../../ui/format';

/** So many files are named one by one. */
const MOST_NAMED = 3;

/** What a repair rewrites, in lines. */
export function planLines({ rewires }: PlannedView): ReactNode[] {
  const more = rewires.length - MOST_NAMED;
  const named = rewires
    .slice(0, more === 1 ? rewires.length : MOST_NAMED)
    .map(({ holder, written, rewritten }) => (
      <>
        <span className="mono">{holder}</span>: <span className="mono muted">{written}</span>{' '}
        {written === rewritten ? (
          'stays as it is written.'
        ) : (
          <>
            becomes <span className="mono">{rewritten}</span>.
          </>
        )}{' '}
        No other byte of the file changes, and its old version is kept.
      </>
    ));
  if (more <= 1) return named;
  return [
    ...named,
    <details key="more">
      <summary>{plural(more, 'more file')}, the same way.</summary>
      {rewires.slice(MOST_NAMED).map(({ holder, rewritten }) => (
        <div key={`${holder} ${rewritten}`} className="mono">
          {holder}: {rewritten}
        </div>
      ))}
    </details>,
  ];
}
