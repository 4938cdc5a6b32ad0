import { Button } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import { addressIn } from '../../ui/address/addresses';
import layout from '../../ui/operation/OperationPage.module.css';
import type { ProjectContext } from '../../ui/project/project-context';

/** The page in a project without a part that holds a solid. */
export function NothingToCut() {
  const { projectId } = useOutletContext<ProjectContext>();
  return (
    <div className={layout.blank}>
      <h1>No body to cut</h1>
      <p className="muted">
        No part of this project holds a solid. Import one, and any of its bodies can be cut into pieces here.
      </p>
      <Button component={Link} to={addressIn(projectId, 'files')}>
        Go to Files
      </Button>
    </div>
  );
}
