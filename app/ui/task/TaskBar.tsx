import { Button, Progress } from '@mantine/core';
import { useLost } from '../connection/connection';
import { count } from '../format';
import classes from './TaskBar.module.css';
import type { TaskProgress } from './useTask';

interface Props {
  progress: TaskProgress;
  /** What is going on, for those who do not see the bar. */
  label: string;
  onCancel: () => void;
}

/** How far work is, in words and as a bar, and the button that stops it. */
export function TaskBar({ progress, label, onCancel }: Props) {
  const isLost = useLost();
  const { done, total } = progress;
  return (
    <div className={classes.task}>
      <div className={classes.words}>
        <span role="status">{isLost ? 'Waiting for the server to answer…' : stateInWords(progress)}</span>
        <Progress value={total > 0 ? (100 * done) / total : 4} animated aria-label={label} />
      </div>
      <Button variant="default" onClick={onCancel}>
        Cancel
      </Button>
    </div>
  );
}

/** What is being done, or what it waits for. */
export function stateInWords({ state, doing, before = 0, isServed = true }: TaskProgress): string {
  if (doing) return `${doing}…`;
  if (state === 'running') return 'Starting…';
  if (!isServed)
    return 'Nothing that computes has answered for 15 s. Tell whoever runs Stone Tray; it begins by itself as soon as it can.';
  return before > 0 ? `Waiting for work of others: ${count(before)} before you…` : 'Waiting for its turn…';
}
