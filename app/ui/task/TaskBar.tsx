import { Button, Progress } from '@mantine/core';
import { useLost } from '../connection/connection';
import classes from './TaskBar.module.css';
import type { TaskProgress } from './useTask';

interface Props {
  progress: TaskProgress;
  /** What is going on, for those who do not see the bar. */
  label: string;
  onCancel: () => void;
}

/** How far work is, in words and as a bar, and the button that stops it. */
export function TaskBar({ progress: { state, doing, done, total }, label, onCancel }: Props) {
  const isLost = useLost();
  const words = doing || (state === 'running' ? 'Starting' : 'Waiting for the job worker');
  return (
    <div className={classes.task}>
      <div className={classes.words}>
        <span role="status">{isLost ? 'Waiting for the server to answer…' : `${words}…`}</span>
        <Progress value={total > 0 ? (100 * done) / total : 4} animated aria-label={label} />
      </div>
      <Button variant="default" onClick={onCancel}>
        Cancel
      </Button>
    </div>
  );
}
