import { Button } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import { addressIn } from '../../ui/address/addresses';
import layout from '../../ui/operation/OperationPage.module.css';
import type { ProjectContext } from '../../ui/project/project-context';

/** The page in a project without a part of many bodies. */
export function NothingToSplit() {
  const { projectId } = useOutletContext<ProjectContext>();
  return (
    <div className={layout.blank}>
      <h1>Nothing to split</h1>
      <p className="muted">
        No part of this project has more than one body. Import one, such as a weldment or a supplier’s
        download, and it can be taken apart here.
      </p>
      <Button component={Link} to={addressIn(projectId, 'files')}>
        Go to Files
      </Button>
    </div>
  );
}
