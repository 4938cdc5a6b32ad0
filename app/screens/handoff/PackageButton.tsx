import { Button } from '@mantine/core';
import { useOutletContext } from 'react-router';
import type { WrittenPackage } from '#server/projects/packages';
import { TaskBar } from '../../ui/TaskBar';
import { useTask } from '../../ui/useTask';
import type { ProjectContext } from '../project/ProjectFrame';
import classes from './HandOff.module.css';

interface Props {
  options: { root: string; flatten: boolean; prefix: string; suffix: string; allowBroken: boolean };
  ready: boolean;
}

/** Has the package written by the job worker, shows how far it is, and starts the download when it is there. */
export function PackageButton({ options, ready }: Props) {
  const { projectId } = useOutletContext<ProjectContext>();
  const { running, done, error, start, cancel } = useTask<WrittenPackage>();
  const addressOf = (id: string) => `/projects/${projectId}/package.zip?package=${id}`;
  if (running) return <TaskBar progress={running} label="Packing" onCancel={cancel} />;
  return (
    <>
      {error && (
        <span className={classes.failed} role="alert">
          {error}
        </span>
      )}
      {done && (
        <a href={addressOf(done.id)} className={classes.again}>
          Download again
        </a>
      )}
      <Button
        size="sm"
        disabled={!ready}
        onClick={async () => {
          const written = await start('package', options);
          if (written) window.location.assign(addressOf(written.id));
        }}
      >
        Write the package
      </Button>
    </>
  );
}
