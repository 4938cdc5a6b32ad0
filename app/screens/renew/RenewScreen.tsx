import { Button } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import type { AppliedChange } from '#server/projects/apply-in-task';
import { Applied } from '../../ui/Applied';
import { plural } from '../../ui/format';
import layout from '../../ui/OperationPage.module.css';
import { TaskBar } from '../../ui/TaskBar';
import { useTask } from '../../ui/useTask';
import { useUndo } from '../../ui/useUndo';
import { WhatWillChange } from '../../ui/WhatWillChange';
import type { ProjectContext } from '../project/ProjectFrame';
import classes from './Renew.module.css';

interface RenewScreenProps {
  files: {
    path: string;
    /** The version that is shown. */
    base: string;
    /** What will be written in another form, in words. */
    what: string[];
  }[];
}

/** Files that write their links in a form that other programs pass over: which, what is renewed, one button. */
export function RenewScreen({ files }: RenewScreenProps) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const renewing = useTask<AppliedChange>();
  const applied = renewing.done?.result ?? null;
  const { undone, button } = useUndo(applied?.applied);
  const undoBar = applied && !undone && <Applied summary={applied.summary}>{button}</Applied>;
  if (files.length === 0)
    return (
      <div className={layout.blank}>
        <h1>Every link is written as others follow it</h1>
        <p className="muted">Nothing to renew: other programs find the components of these files, too.</p>
        <Button component={Link} to={`/projects/${projectId}/repair`}>
          Go to the Repair desk
        </Button>
        {undoBar}
      </div>
    );
  return (
    <div className={layout.page}>
      <div className={classes.page}>
        <h1>Renew how links are written</h1>
        <p className={classes.why}>
          {files.length === 1 ? 'This file writes something' : 'These files write something'} in a form that
          many programs pass over: an assembly may open empty there, or with parts too many. Where the links
          lead stays as it is.
        </p>
        <ul className={classes.files} aria-label="Files to renew">
          {files.map(({ path, what }) => (
            <li key={path}>
              <span className="mono">{path}</span>
              <ul>
                {what.map((words) => (
                  <li key={words}>{words}</li>
                ))}
              </ul>
            </li>
          ))}
        </ul>
      </div>
      <WhatWillChange
        lines={[
          <>
            {plural(files.length, 'file gets a new version', 'files get a new version each')}. No other byte
            changes, and the old versions are kept.
          </>,
        ]}
        empty=""
        warnings={renewing.error ? [renewing.error] : []}
      >
        {undoBar}
        {renewing.running ? (
          <TaskBar progress={renewing.running} label="Renewing" onCancel={renewing.cancel} />
        ) : (
          <Button
            disabled={!mayEdit}
            title={mayEdit ? undefined : 'You may look at this project, not change it'}
            onClick={() =>
              void renewing.start('renew', { base: files.map(({ path, base }) => ({ path, base })) })
            }
          >
            Renew {plural(files.length, 'file')}
          </Button>
        )}
      </WhatWillChange>
    </div>
  );
}
