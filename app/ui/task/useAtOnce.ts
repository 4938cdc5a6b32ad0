import { useState } from 'react';
import { useOutletContext } from 'react-router';
import type { AppliedChange, PlannedView } from '#server/views/operations/planned-view';
import { askingAddress } from '../address/addresses';
import { post } from '../connection/json-request';
import type { ProjectContext } from '../project/project-context';
import { announce } from '../voice';
import { useTask } from './useTask';

/** Carrying out an operation that is plain in itself, such as taking back a change: it is planned and applied in one go. */
export function useAtOnce(operation: string) {
  const { projectId } = useOutletContext<ProjectContext>();
  const { start, running, error } = useTask<AppliedChange>();
  const [refusal, setRefusal] = useState<string | null>(null);
  /** @returns whether it was done */
  const carryOut = async (choices: object): Promise<boolean> => {
    const asked = { operation, choices };
    try {
      const answer = await post<{ planned: PlannedView } | { refused: string }>(
        askingAddress(projectId, operation),
        { intent: 'plan', ...asked },
      );
      if ('refused' in answer) {
        announce(answer.refused);
        setRefusal(answer.refused);
        return false;
      }
      setRefusal(null);
      const done = await start({ intent: 'apply', ...asked, seen: answer.planned.seen });
      if (done) announce(`${done.result.summary}: done`);
      return done !== null && done !== undefined;
    } catch (failed) {
      setRefusal(failed instanceof Error ? failed.message : String(failed));
      return false;
    }
  };
  return { carryOut, isRunning: running !== null, trouble: refusal ?? error };
}
