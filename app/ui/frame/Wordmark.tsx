import classes from './Wordmark.module.css';

/** The product's name and sign: a stone on a tray. */
export function Wordmark() {
  return (
    <span className={classes.wordmark}>
      <svg viewBox="0 0 32 32" width="20" height="20" aria-hidden="true">
        <rect x="2" y="21" width="28" height="6" rx="2" fill="var(--st-accent)" />
        <path d="M6 19 12 6l6 7 4-3 4 9z" fill="var(--st-ink)" />
      </svg>
      <span className={classes.name}>Stone Tray</span>
    </span>
  );
}
