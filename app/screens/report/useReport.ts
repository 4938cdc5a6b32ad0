import { useEffect, useState } from 'react';
import { useOutletContext } from 'react-router';
import { v4 as uuid } from 'uuid';
import type { LookedAt } from '#core/report';
import { addressIn } from '../../ui/address/addresses';
import { NotWanted, post } from '../../ui/connection/json-request';
import type { ProjectContext } from '../../ui/project/project-context';
import { cancelTask, type TaskProgress, untilEnded } from '../../ui/task/useTask';

/** A report as far as it has come. */
interface Looking {
  found: LookedAt | null;
  /** Why nothing was found out, in words for the person. */
  refusal: string | null;
  progress: TaskProgress | null;
  isStopped: boolean;
}

const NOTHING: Looking = { found: null, refusal: null, progress: null, isStopped: false };

type Answer = { looked: LookedAt } | { refused: string } | { task: string };

/**
 * What a report finds with some choices, looked for again whenever they or the project are others.
 * @param choices null while something is still to be chosen
 */
export function useReport(report: string, choices: object | null) {
  const { projectId, revision } = useOutletContext<ProjectContext>();
  const key = choices === null ? '' : JSON.stringify({ report, choices });
  const [state, setState] = useState<Looking & { key: string }>({ ...NOTHING, key: '' });
  const [attempt, setAttempt] = useState(0);
  const wanted = key === '' ? '' : `${revision} ${attempt} ${key}`;
  useEffect(() => {
    if (wanted === '') {
      setState({ ...NOTHING, key: '' });
      return;
    }
    let isWanted = true;
    let task: string | null = null;
    const show = (shown: Partial<typeof state>) => {
      if (isWanted) setState((before) => ({ ...before, ...shown, key: wanted }));
    };
    const look = async (): Promise<Partial<Looking>> => {
      const wish = { intent: 'look', task: uuid(), ...JSON.parse(key) };
      const answer = await post<Answer>(addressIn(projectId, 'operations'), wish, () => isWanted);
      if ('looked' in answer) return { found: answer.looked };
      if ('refused' in answer) return { refusal: answer.refused };
      task = answer.task;
      const onProgress = (progress: TaskProgress) => show({ progress });
      const tasks = addressIn(projectId, 'tasks');
      const ended = await untilEnded<LookedAt>(tasks, task, onProgress, () => isWanted);
      if (ended?.state === 'cancelled') return { isStopped: true };
      return { found: ended?.result ?? null, refusal: ended?.error ?? null };
    };
    show({ refusal: null, progress: null, isStopped: false });
    look().then(
      (ended) => show({ found: null, ...ended, progress: null }),
      (error: Error) => {
        if (!(error instanceof NotWanted)) show({ refusal: error.message, progress: null });
      },
    );
    return () => {
      isWanted = false;
      if (task !== null) void cancelTask(projectId, task);
    };
  }, [wanted, key, projectId]);
  return { ...state, isStale: state.key !== wanted, again: () => setAttempt(attempt + 1) };
}
