import { Button } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import type { RenewedFile } from '#core/jobs/repair/renew-operation';
import { addressIn } from '../../ui/address/addresses';
import { plural } from '../../ui/format';
import { JustDone, OperationPage } from '../../ui/operation/OperationPage';
import layout from '../../ui/operation/OperationPage.module.css';
import { useOperation } from '../../ui/operation/useOperation';
import type { ProjectContext } from '../../ui/project/project-context';
import classes from './Renew.module.css';

const ALL = { paths: null };

/**
 * Files that write their links in a form that other programs pass over: which, what is renewed, one button.
 * @param files those, as the page was loaded
 */
export function RenewScreen({ files }: { files: RenewedFile[] }) {
  const { projectId } = useOutletContext<ProjectContext>();
  const renewal = useOperation<{ files: RenewedFile[] }>('renew', files.length === 0 ? null : ALL);
  if (files.length === 0)
    return (
      <div className={layout.blank}>
        <h1>Every link is written as others follow it</h1>
        <p className="muted">Nothing to renew: other programs find the components of these files, too.</p>
        <Button component={Link} to={addressIn(projectId, 'repair')}>
          Go to the Repair desk
        </Button>
        <JustDone operation={renewal} />
      </div>
    );
  return (
    <OperationPage
      operation={renewal}
      choices={
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
      }
      lines={({ files: changed }) => [
        <>
          {plural(changed.length, 'file gets a new version', 'files get a new version each')}. No other byte
          changes, and the old versions are kept.
        </>,
      ]}
      empty=""
      label={() => `Renew ${plural(files.length, 'file')}`}
      doing="Renewing"
    />
  );
}
