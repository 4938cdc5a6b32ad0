import { Button } from '@mantine/core';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { addressIn } from '../../ui/address/addresses';
import classes from './Repair.module.css';

/** What a project without files shows. */
export function NoFiles({ projectId }: { projectId: string }) {
  return (
    <div className={classes.blank}>
      <h1>Nothing to look through yet</h1>
      <p className="muted">
        This project has no file. Import a folder of linked files; broken links then stand here.
      </p>
      <Button component={Link} to={addressIn(projectId, 'files')}>
        Go to Files
      </Button>
    </div>
  );
}

/** What a project shows all of whose links hold. */
export function AllSound({ projectId, children }: { projectId: string; children: ReactNode }) {
  return (
    <div className={classes.blank}>
      <svg viewBox="0 0 12 12" width="34" height="34" aria-hidden="true">
        <circle cx="6" cy="6" r="5" fill="none" stroke="var(--st-sound)" strokeWidth="0.9" />
        <path
          d="M3.6 6.2 5.3 7.9 8.5 4.5"
          fill="none"
          stroke="var(--st-sound)"
          strokeWidth="1"
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      </svg>
      <h1>Every link is sound</h1>
      <p className="muted">Nothing to repair. The project can be handed off as it is.</p>
      <Button component={Link} to={addressIn(projectId, 'hand-off')}>
        Go to Hand-off
      </Button>
      {children}
    </div>
  );
}
