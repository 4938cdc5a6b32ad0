import type { DoneWithFile } from '#server/projects/projects';
import { plural } from '../format';
import { Time } from '../measures/Time';
import classes from './DoneWith.module.css';

interface DoneBeforeProps {
  done: readonly DoneWithFile[];
  /** What was done, in a word: "Cut". */
  word: string;
}

/** On the page of an operation: how often it was done with the file before, and what; nothing where it never was. */
export function DoneBefore({ done, word }: DoneBeforeProps) {
  if (done.length === 0) return null;
  return (
    <details className={classes.before}>
      <summary>{`${word} before: ${plural(done.length, 'time')}`}</summary>
      <DoneWith done={done} />
    </details>
  );
}

/** What was done with a file before, the newest first. */
export function DoneWith({ done }: { done: readonly DoneWithFile[] }) {
  return (
    <ul>
      {done.map(({ summary, who, time }) => (
        <li key={time}>
          {summary}{' '}
          <span className="muted">
            {who}, <Time iso={time} />
          </span>
        </li>
      ))}
    </ul>
  );
}
