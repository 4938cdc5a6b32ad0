import { Button } from '@mantine/core';
import { Link } from 'react-router';
import classes from './Split.module.css';

interface Props {
  /** What is known of the selected bodies, in words; '' when nothing is selected. */
  facts: string;
  /** How many bodies are selected. */
  count: number;
  isAlone: boolean;
  /** Whether all selected bodies are hidden, and how many are hidden at all. */
  isHidden: boolean;
  hidden: number;
  /** Address of the page that cuts the selected body; null when not exactly one is selected. */
  cut: string | null;
  /** Whether the selected rows can become one component, or the component be taken apart. */
  joins: 'join' | 'apart' | null;
  onGo: () => void;
  onHide: () => void;
  onAlone: () => void;
  onShowAll: () => void;
  onJoin: () => void;
}

/** What can be done with the selected rows. */
export function SelectionTools(props: Props) {
  const { facts, count, isAlone, isHidden, hidden, cut, joins } = props;
  const { onGo, onHide, onAlone, onShowAll, onJoin } = props;
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
        <Button variant="default" disabled={count === 0} onClick={onHide}>
          {isHidden ? 'Show' : 'Hide'}
        </Button>
        <Button
          variant={isAlone ? 'light' : 'default'}
          aria-pressed={isAlone}
          disabled={count === 0 && !isAlone}
          onClick={onAlone}
        >
          Show alone
        </Button>
        {hidden > 0 && (
          <Button variant="default" onClick={onShowAll}>
            Show all ({hidden} hidden)
          </Button>
        )}
      </Button.Group>
    </div>
  );
}
