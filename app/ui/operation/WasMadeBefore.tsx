import { Button } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import type { MadeBefore } from '#core/project/scan/made-before';
import { addressIn } from '../address/addresses';
import { madeBeforeInWords } from '../project/made-before-words';
import type { ProjectContext } from '../project/project-context';
import { WhatWillChange } from './WhatWillChange';

interface WasMadeBeforeProps {
  before: MadeBefore;
  onAgain: () => void;
  children: React.ReactNode;
}

/** In the place of what will change: it was done before, with what came of it, and the ways on from there. */
export function WasMadeBefore({ before, onAgain, children }: WasMadeBeforeProps) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const { files, opens, behind, source } = before;
  const named = files.slice(0, 3).join(', ');
  const more = files.length - 3;
  return (
    <WhatWillChange
      lines={[
        `This was done before: ${madeBeforeInWords(before)}`,
        ...(files.length > 1
          ? [
              <span key="files" className="mono">
                {named}
                {more > 0 && ` and ${more} more`}
              </span>,
            ]
          : []),
      ]}
      empty=""
    >
      {children}
      <Button variant="default" component={Link} to={addressIn(projectId, 'structure', { root: opens })}>
        Open
      </Button>
      <Button
        variant={behind > 0 ? 'filled' : 'default'}
        component={Link}
        to={addressIn(projectId, 'sources', { source })}
      >
        {behind > 0 ? 'Bring up to date' : 'Compare'}
      </Button>
      {mayEdit && (
        <Button variant="default" onClick={onAgain}>
          Again, as new files
        </Button>
      )}
    </WhatWillChange>
  );
}
