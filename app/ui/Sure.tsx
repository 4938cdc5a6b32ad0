import classes from './Sure.module.css';

const WORDS: readonly [least: number, words: string][] = [
  [0.99, 'almost certain'],
  [0.9, 'very likely'],
  [0.6, 'likely'],
  [0.3, 'possible'],
  [0, 'unlikely'],
];

/** How sure something is, in a word. @param part 0 to 1 */
export function sureInWords(part: number): string {
  return WORDS.find(([least]) => part >= least)?.[1] ?? 'unlikely';
}

/** The same in percent, which never say that it is certain. @example sureInPercent(0.9987) // '> 99 %' */
export function sureInPercent(part: number): string {
  if (part > 0.99) return '> 99 %';
  return part < 0.01 ? '< 1 %' : `${Math.round(100 * part)} %`;
}

/** The one way to say how sure something is: a word over a bar, percent on hover. Its heading is *How sure*. */
export function Sure({ part }: { part: number }) {
  return (
    <span className={classes.sure} title={`${sureInPercent(part)} sure`}>
      <i style={{ width: `${Math.round(part * 100)}%` }} />
      {sureInWords(part)}
    </span>
  );
}
