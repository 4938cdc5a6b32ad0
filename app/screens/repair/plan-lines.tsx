import type { ReactNode } from 'react';
import type { PlannedView } from '#server/views/operations/planned-view';
import { plural } from '../../ui/format';

/** So many links are named one by one. */
const MOST_NAMED = 3;

/** What a repair rewrites, in lines. */
export function planLines({ rewires }: PlannedView): ReactNode[] {
  if (rewires.length === 0) return [];
  const more = rewires.length - MOST_NAMED;
  const named = rewires.slice(0, more === 1 ? rewires.length : MOST_NAMED);
  const lines: ReactNode[] = named.map(({ holder, written, rewritten }) => (
    <>
      <span className="mono">{holder}</span>: <span className="mono muted">{written}</span>{' '}
      {written === rewritten ? (
        'stays as it is written.'
      ) : (
        <>
          becomes <span className="mono">{rewritten}</span>.
        </>
      )}
    </>
  ));
  if (more > 1)
    lines.push(
      <details>
        <summary>{plural(more, 'more link')}, the same way.</summary>
        {rewires.slice(MOST_NAMED).map(({ holder, rewritten }) => (
          <div key={`${holder} ${rewritten}`} className="mono">
            {holder}: {rewritten}
          </div>
        ))}
      </details>,
    );
  const files = new Set(rewires.map(({ holder }) => holder)).size;
  lines.push(
    files === 1
      ? 'No other byte of the file changes, and its old version is kept.'
      : `No other byte of these ${files} files changes, and their old versions are kept.`,
  );
  return lines;
}
