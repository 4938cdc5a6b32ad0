import { Button } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import type { FollowLine } from '#core/jobs/split/newer/outline';
import { addressIn } from '../../ui/address/addresses';
import type { ProjectContext } from '../../ui/project/project-context';
import classes from './Sources.module.css';

interface SelectionToolsProps {
  line: FollowLine | undefined;
  /** Its component is taken from the source although it has changes of its own. */
  isTaken: boolean;
  onTake: (path: string, isTaken: boolean) => void;
  /** null: nothing is lit. */
  onGoTo: (() => void) | null;
}

/** What can be done with the selected line: see it, take it from the source all the same, open its file. */
export function SelectionTools({ line, isTaken, onTake, onGoTo }: SelectionToolsProps) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const file = line?.component ?? null;
  return (
    <div className={classes.open} role="toolbar" aria-label="Selection">
      <Button variant="default" disabled={onGoTo === null} onClick={() => onGoTo?.()}>
        Go to it
      </Button>
      {file && line?.kept && line.mayBeTaken && mayEdit && (
        <Button variant="default" onClick={() => onTake(file, !isTaken)}>
          {isTaken ? 'Leave it as it is' : 'Take it from the source'}
        </Button>
      )}
      {file && (
        <Button variant="default" component={Link} to={addressIn(projectId, 'files', { sel: file })}>
          Open {file.split('/').at(-1)}
        </Button>
      )}
    </div>
  );
}
