import type { LinkState } from '#core/files/links/resolve';
import classes from './LinkMark.module.css';

const SHAPES: { [state in LinkState]: React.ReactNode } = {
  sound: <circle cx="6" cy="6" r="3.5" fill="currentColor" />,
  behind: (
    <path
      d="M2.5 9.5V2.5M5 6H10.5M7.2 3.2 4.6 6 7.2 8.8"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.7"
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  ),
  missing: (
    <path
      d="M2.5 2.5 9.5 9.5M9.5 2.5 2.5 9.5"
      stroke="currentColor"
      strokeWidth="2.2"
      strokeLinecap="round"
    />
  ),
  ambiguous: (
    <path
      d="M6 1 11 6 6 11 1 6Z M6 1V11"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.6"
      strokeLinejoin="round"
    />
  ),
  loop: (
    <path
      d="M9.8 4.2A4.3 4.3 0 1 0 10.3 6.8M10.4 1.6V4.6H7.4"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.7"
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  ),
};

/** The state of a link: a shape of its own and the word, never colour alone. */
export function LinkMark({
  state,
  word = 'always',
  title,
}: {
  state: LinkState;
  /** Whether the word is seen beside the shape: what is as it should be may need none, or it is there on hover. */
  word?: 'always' | 'unless sound' | 'never';
  title?: string;
}) {
  return (
    <span className={classes.mark} data-state={state} title={title}>
      <svg viewBox="0 0 12 12" width="12" height="12" aria-hidden="true">
        {SHAPES[state]}
      </svg>
      {word === 'never' || (word === 'unless sound' && state === 'sound') ? (
        <span className={classes.hidden}>{state}</span>
      ) : (
        state
      )}
    </span>
  );
}

/** States of many links at a glance: counts of each that occurs. */
export function LinkCounts({ counts }: { counts: { [state in LinkState]: number } }) {
  const present = (Object.keys(SHAPES) as LinkState[]).filter((state) => counts[state] > 0);
  if (present.length === 0) return <span className="muted">no links</span>;
  return (
    <span className={classes.counts}>
      {present.map((state) => (
        <span key={state} className={classes.mark} data-state={state}>
          <svg viewBox="0 0 12 12" width="12" height="12" aria-hidden="true">
            {SHAPES[state]}
          </svg>
          {counts[state]} {state}
        </span>
      ))}
    </span>
  );
}
