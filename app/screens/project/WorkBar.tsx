import { Button } from '@mantine/core';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { TaskState } from '#server/jobs/tasks';
import type { AppliedChange } from '#server/views/operations/planned-view';
import { addressIn } from '../../ui/address/addresses';
import { useReload } from '../../ui/connection/useReload';
import { endWork, type LeftWork, useLeftWork } from '../../ui/task/left-work';
import { TaskBar } from '../../ui/task/TaskBar';
import { cancelTask, type TaskProgress, untilEnded } from '../../ui/task/useTask';
import classes from './SendingBar.module.css';

/** Work that was begun on a page that is not in view any more: how far it is, and what came of it, on every page. */
export function WorkBar({ projectId }: { projectId: string }) {
  const works = useLeftWork(projectId);
  return works.map((work) => <WorkLine key={work.id} work={work} />);
}

function WorkLine({ work: { projectId, id, summary, address } }: { work: LeftWork }) {
  const [progress, setProgress] = useState<TaskProgress>({ state: 'running', doing: '', done: 0, total: 0 });
  const [ended, setEnded] = useState<Pick<TaskState<AppliedChange>, 'state' | 'error' | 'result'> | null>(
    null,
  );
  const reload = useReload();
  useEffect(() => {
    let isWanted = true;
    const look = async () => {
      try {
        const state = await untilEnded<AppliedChange>(
          addressIn(projectId, 'tasks'),
          id,
          setProgress,
          () => isWanted,
        );
        if (!state || !isWanted) return;
        setEnded(state);
        if (state.state === 'done') void reload();
      } catch (trouble) {
        const error = trouble instanceof Error ? trouble.message : String(trouble);
        if (isWanted) setEnded({ state: 'failed', error, result: null });
      }
    };
    void look();
    return () => {
      isWanted = false;
    };
  }, [projectId, id, reload]);
  const close = (
    <Button variant="default" onClick={() => endWork(id)}>
      Close
    </Button>
  );
  return (
    <section className={classes.bar} aria-label="Work that goes on">
      {!ended && (
        <>
          <p>{summary}</p>
          <TaskBar progress={progress} label={summary} onCancel={() => void cancelTask(projectId, id)} />
        </>
      )}
      {ended?.state === 'done' && (
        <>
          <p role="status">Done: {ended.result?.summary ?? summary}.</p>
          <Button
            component={Link}
            variant="default"
            to={addressIn(projectId, 'activity')}
            onClick={() => endWork(id)}
          >
            See it in Activity
          </Button>
          {close}
        </>
      )}
      {ended && ended.state !== 'done' && (
        <>
          <p role="alert" className={classes.error}>
            {summary}:{' '}
            {ended.state === 'cancelled' ? 'it was stopped, and nothing was changed.' : ended.error}
          </p>
          <Button component={Link} variant="default" to={address} onClick={() => endWork(id)}>
            Back to it
          </Button>
          {close}
        </>
      )}
    </section>
  );
}
