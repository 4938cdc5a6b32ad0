import { Button } from '@mantine/core';
import { Link } from 'react-router';
import classes from './Split.module.css';

interface Props {
  /** What is known of the selected bodies, in words; '' when nothing is selected. */
  facts: string;
  /** How many bodies are selected. */
  count: number;
  isAlone: boolean;
  /** Address of the page that cuts the selected body; null when not exactly one is selected. */
  cut: string | null;
  /** Whether the selected rows can become one component, or the component be taken apart. */
  joins: 'join' | 'apart' | null;
  onGo: () => void;
  onAlone: () => void;
  onJoin: () => void;
}

/** What can be done with the selected rows. */
export function SelectionTools({ facts, count, isAlone, cut, joins, onGo, onAlone, onJoin }: Props) {
  return (
    <div className={classes.selection} role="toolbar" aria-label="Selection">
      {facts && <span className={classes.facts}>{facts}</span>}
      {joins && (
        <Button variant="default" onClick={onJoin}>
          {joins === 'join' ? `Make ${count} bodies one component` : 'Take the component apart'}
        </Button>
      )}
      {cut && (
        <Button variant="default" component={Link} to={cut}>
          Cut this body
        </Button>
      )}
      <Button.Group>
        <Button variant="default" disabled={count === 0} onClick={onGo}>
          Go to it
        </Button>
        <Button
          variant={isAlone ? 'light' : 'default'}
          aria-pressed={isAlone}
          disabled={count === 0 && !isAlone}
          onClick={onAlone}
        >
          Show alone
        </Button>
      </Button.Group>
    </div>
  );
}
