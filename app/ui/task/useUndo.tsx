import { Button } from '@mantine/core';
import { useState } from 'react';
import { useOutletContext } from 'react-router';
import type { AppliedChange, PlannedView } from '#server/views/operations/planned-view';
import { askingAddress } from '../address/addresses';
import { post } from '../connection/json-request';
import type { ProjectContext } from '../project/project-context';
import { announce } from '../voice';
import { useTask } from './useTask';

/**
 * Taking back the change that a page has just made.
 * @param changeSet its id; null while there is none
 * @returns whether it was taken back, and the button that does it
 */
export function useUndo(
  changeSet: string | null | undefined,
  label = 'Undo',
): { undone: boolean; button: React.ReactNode } {
  const { projectId } = useOutletContext<ProjectContext>();
  const { start, running, error } = useTask<AppliedChange>();
  const [undoneId, setUndoneId] = useState<string | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const undone = !!changeSet && undoneId === changeSet;
  const trouble = refusal ?? error;
  const takeBack = async (change: string) => {
    const asked = { operation: 'undo', choices: { change } };
    try {
      const answer = await post<{ planned: PlannedView } | { refused: string }>(
        askingAddress(projectId, 'undo'),
        { intent: 'plan', ...asked },
      );
      if ('refused' in answer) {
        announce(answer.refused);
        return setRefusal(answer.refused);
      }
      setRefusal(null);
      const done = await start({ intent: 'apply', ...asked, seen: answer.planned.seen });
      if (done) {
        setUndoneId(change);
        announce(`${done.result.summary}: done`);
      }
    } catch (failed) {
      setRefusal(failed instanceof Error ? failed.message : String(failed));
    }
  };
  const button = changeSet && !undone && (
    <Button
      variant="default"
      loading={running !== null}
      title={trouble ?? undefined}
      onClick={() => void takeBack(changeSet)}
    >
      {trouble ? 'It cannot be undone' : label}
    </Button>
  );
  return { undone, button };
}
