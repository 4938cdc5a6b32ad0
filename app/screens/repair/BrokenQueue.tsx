import type { ReactNode } from 'react';
import type { BrokenLink } from '#server/views/operations/repair-view';
import { plural } from '../../ui/format';
import { LinkMark } from '../../ui/LinkMark';
import { queueEntries } from './queue';
import classes from './Repair.module.css';

interface BrokenQueueProps {
  queue: BrokenLink[];
  /** Key of the link that is looked at. */
  current: string;
  /** Links to the same name stand one by one. */
  alikeApart: boolean;
  onSelect: (key: string) => void;
}

/** The broken links, one after the other, with why each is. */
export function BrokenQueue({ queue, current, alikeApart, onSelect }: BrokenQueueProps) {
  return (
    <ul className={classes.queue} aria-label="Broken links">
      {queueEntries(queue, current, alikeApart).map(({ link: broken, more }) => (
        <li key={broken.key} ref={broken.key === current ? intoView : undefined}>
          <button
            type="button"
            className={classes.link}
            aria-current={broken.key === current}
            onClick={() => onSelect(broken.key)}
          >
            <span className={classes.linkHead}>
              <b>{broken.kind === 'source' ? 'The source' : broken.wanted || broken.written}</b>
              <LinkMark state={broken.state} />
            </span>
            <span className={classes.written}>{broken.written}</span>
            <span className={classes.reason}>
              {broken.reason} {whereInWords(broken, more)}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** The queue may be long: the link that is looked at is seen. */
function intoView(entry: HTMLLIElement | null): void {
  entry?.scrollIntoView?.({ block: 'nearest' });
}

/** Where a link stands, and what for. */
function whereInWords({ kind, holder, occurrences }: BrokenLink, more: number): ReactNode {
  return (
    <>
      {kind === 'source' ? 'Of ' : 'In '}
      <span className="mono">{holder.split('/').at(-1)}</span>
      {kind !== 'source' && more === 0 && `, placed ${plural(occurrences, 'time')}`}
      {more > 0 && ` and ${plural(more, 'more file')}`}.
    </>
  );
}
