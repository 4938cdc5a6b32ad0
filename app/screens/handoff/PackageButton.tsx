import { Button, Progress } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import { useFetcher, useOutletContext } from 'react-router';
import type { PackageState } from '#server/projects/packages';
import type { action as packageAction } from '../../routes/package';
import { asRequest } from '../../ui/json-request';
import type { ProjectContext } from '../project/ProjectFrame';
import classes from './HandOff.module.css';

interface Props {
  options: { root: string; flatten: boolean; prefix: string; suffix: string; allowBroken: boolean };
  ready: boolean;
}

/** Has the package written by the job worker, shows how far it is, and starts the download when it is there. */
export function PackageButton({ options, ready }: Props) {
  const { projectId, packageEvent } = useOutletContext<ProjectContext>();
  const asking = useFetcher<typeof packageAction>();
  const [state, setState] = useState<Pick<
    PackageState,
    'state' | 'doing' | 'done' | 'total' | 'error'
  > | null>(null);
  const address = `/projects/${projectId}/package.zip`;
  const id = (asking.data && 'package' in asking.data && asking.data.package) || null;
  const downloaded = useRef<string | null>(null);

  useEffect(() => {
    if (id && packageEvent?.package === id)
      setState({
        state: packageEvent.state as PackageState['state'],
        doing: packageEvent.doing,
        done: packageEvent.done,
        total: packageEvent.total,
        error: packageEvent.state === 'failed' ? packageEvent.doing : null,
      });
  }, [id, packageEvent]);
  useEffect(() => {
    if (!id) return;
    // A short job may be through before its id is known here, and an event may be lost with the connection.
    const look = async () => {
      const answer = await fetch(`${address}?package=${id}&state`);
      if (answer.ok) setState((await answer.json()) as PackageState);
    };
    void look();
    const timer = setInterval(look, 2000);
    return () => clearInterval(timer);
  }, [id, address]);
  const isDone = id !== null && state?.state === 'done';
  useEffect(() => {
    if (!isDone || downloaded.current === id) return;
    downloaded.current = id;
    window.location.assign(`${address}?package=${id}`);
  }, [isDone, id, address]);

  const send = (request: object) =>
    asking.submit(asRequest(request), {
      method: 'post',
      action: address,
      encType: 'application/json',
    });
  const isBusy = id !== null && !['done', 'failed', 'cancelled'].includes(state?.state ?? 'waiting');
  if (isBusy) {
    return (
      <div className={classes.packing} role="status">
        <span>{state?.doing || 'Waiting for the job worker…'}</span>
        <Progress
          value={state && state.total > 0 ? (100 * state.done) / state.total : 0}
          aria-label="Packing"
        />
        <Button variant="default" onClick={() => send({ intent: 'cancel', package: id })}>
          Cancel
        </Button>
      </div>
    );
  }
  return (
    <>
      {state?.state === 'failed' && (
        <span className={classes.failed} role="alert">
          {state.error}
        </span>
      )}
      {isDone && (
        <a href={`${address}?package=${id}`} className={classes.again}>
          Download again
        </a>
      )}
      <Button
        size="sm"
        disabled={!ready}
        loading={asking.state !== 'idle'}
        onClick={() => {
          setState(null);
          send({ intent: 'start', options });
        }}
      >
        Write the package
      </Button>
    </>
  );
}
