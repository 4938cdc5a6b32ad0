import { Button } from '@mantine/core';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { addressIn } from '../../ui/address/addresses';
import layout from '../../ui/operation/OperationPage.module.css';

/** What a project shows in which no file came out of another. */
export function NothingFollows({ projectId, children }: { projectId: string; children: ReactNode }) {
  return (
    <div className={layout.blank}>
      <h1>No file came out of another</h1>
      <p className="muted">
        Split a part, and its files remember which body of which version they are. When the part changes, this
        page brings them up to it.
      </p>
      <Button component={Link} to={addressIn(projectId, 'split')}>
        Go to Split
      </Button>
      {children}
    </div>
  );
}
