import { Button } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import { addressIn } from '../../ui/address/addresses';
import layout from '../../ui/operation/OperationPage.module.css';
import type { ProjectContext } from '../../ui/project/project-context';

/** The page when its address names no part of the project. */
export function NothingToCut() {
  const { projectId } = useOutletContext<ProjectContext>();
  return (
    <div className={layout.blank}>
      <h1>No body to cut</h1>
      <p className="muted">
        Choose a body on the page Split and press “Cut this body”, or open a part in Files and cut it from
        there.
      </p>
      <Button component={Link} to={addressIn(projectId, 'split')}>
        Go to Split
      </Button>
    </div>
  );
}
