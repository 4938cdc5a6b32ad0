import { Button, Popover, Progress } from '@mantine/core';
import { useCallback, useEffect, useState } from 'react';
import type { RunningTask, RunningView } from '#server/views/operations/running';
import { addressIn } from '../../ui/address/addresses';
import { fetchPatiently } from '../../ui/connection/connection';
import { listenTogether } from '../../ui/connection/live-events';
import { cancelTask } from '../../ui/task/useTask';
import classes from './Running.module.css';

/** Milliseconds between two looks while something is under way. */
const PAUSE = 2000;
const NOTHING: RunningView = { tasks: [], isServed: true };

/** What is under way, in the header of every page: own work, for owners everybody's; with what, since when, how far, and cancel. */
export function Running({ projectId }: { projectId: string }) {
  const { tasks, isServed, look } = useRunning(projectId);
  const [isOpen, setOpen] = useState(false);
  if (tasks.length === 0) return null;
  return (
    <Popover position="bottom-end" opened={isOpen} onChange={setOpen} trapFocus returnFocus>
      <Popover.Target>
        <Button variant="default" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          Running {tasks.length}
        </Button>
      </Popover.Target>
      <Popover.Dropdown aria-label="What is under way" className={classes.list}>
        {!isServed && (
          <p role="alert" className={classes.trouble}>
            No job worker has answered for 15 seconds: this waits. Tell whoever runs this server.
          </p>
        )}
        <ul>
          {tasks.map((task) => (
            <Line
              key={task.id}
              task={task}
              onCancel={async () => {
                await cancelTask(projectId, task.id);
                look();
              }}
            />
          ))}
        </ul>
      </Popover.Dropdown>
    </Popover>
  );
}

function Line({ task, onCancel }: { task: RunningTask; onCancel: () => void }) {
  const { title, choices, isLooking, who, state, doing, done, total, seconds } = task;
  const what = isLooking ? `${title}, what it will do` : title;
  return (
    <li className={classes.line}>
      <div>
        <b>{what}</b> {who && <span className="muted">for {who}</span>}
        {choices !== '' && (
          <p className={classes.choices} title={choices}>
            {choices}
          </p>
        )}
        <p className="muted">
          {state === 'waiting' ? 'Waits its turn' : doing || 'Under way'}
          {total > 0 && `, ${done} of ${total}`}; {since(seconds)}
        </p>
        {total > 0 && <Progress value={(100 * done) / total} size="xs" aria-label={`How far: ${what}`} />}
      </div>
      <Button variant="default" onClick={onCancel} aria-label={`Cancel: ${what}`}>
        Cancel
      </Button>
    </li>
  );
}

function since(seconds: number): string {
  if (seconds < 60) return `for ${seconds} s`;
  return `for ${Math.floor(seconds / 60)} min ${seconds % 60} s`;
}

/** Looks when somebody begins something, and every other second while anything is under way. */
function useRunning(projectId: string): RunningView & { look: () => void } {
  const [view, setView] = useState(NOTHING);
  const [turn, setTurn] = useState(0);
  const look = useCallback(() => setTurn((count) => count + 1), []);
  useEffect(
    () =>
      listenTogether((event) => {
        const isHere = 'project' in event && event.project === projectId && event.type === 'work';
        if (event.type === 'listening' || isHere) look();
      }),
    [projectId, look],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: each turn is another look
  useEffect(() => {
    let isWanted = true;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const ask = async () => {
      const answer = await fetchPatiently(addressIn(projectId, 'running'), {}, () => isWanted);
      if (!isWanted || !answer?.ok) return;
      const found = (await answer.json()) as RunningView;
      if (!isWanted) return;
      setView(found);
      if (found.tasks.length > 0) timer = setTimeout(look, PAUSE);
    };
    void ask();
    return () => {
      isWanted = false;
      clearTimeout(timer);
    };
  }, [projectId, turn, look]);
  return { ...view, look };
}
