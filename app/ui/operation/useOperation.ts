import { useCallback, useEffect, useRef, useState } from 'react';
import { useOutletContext } from 'react-router';
import { v4 as uuid } from 'uuid';
import type { AppliedChange, PlannedView } from '#server/views/operations/planned-view';
import { addressIn } from '../address/addresses';
import { post } from '../connection/json-request';
import type { ProjectContext } from '../project/project-context';
import { cancelTask, type TaskProgress, untilEnded, useTask } from '../task/useTask';
import { useUndo } from '../task/useUndo';

/** A plan as far as it has come. */
interface Planning<Preview> {
  /** The newest plan, also while a newer one is being made or was refused. */
  planned: PlannedView<Preview> | null;
  /** Why there is none, in words for the person. */
  refusal: string | null;
  /** Whether the plan belongs to other choices than the page has now. */
  isStale: boolean;
  /** How far a plan is that takes long. */
  progress: TaskProgress | null;
  /** Whether the person has stopped the planning. */
  isStopped: boolean;
}

const NOTHING = { planned: null, refusal: null, key: '', progress: null, isStopped: false };

/** Milliseconds: choices that follow each other are planned once. */
const PAUSE = 120;

type Answer<Preview> = { planned: PlannedView<Preview> } | { refused: string } | { task: string };

/**
 * What an operation would do with some choices, made again whenever they or the project are others; and carrying it out just
 * as it is shown.
 * @param choices null while there is nothing to plan
 * @param undo the words on the button that takes it back
 */
export function useOperation<Preview>(operation: string, choices: object | null, undo?: string) {
  const { projectId, revision } = useOutletContext<ProjectContext>();
  const address = addressIn(projectId, 'operations');
  const key = choices === null ? '' : JSON.stringify({ operation, choices });
  const wanted = key === '' ? '' : `${revision} ${key}`;
  const [state, setState] = useState<Omit<Planning<Preview>, 'isStale'> & { key: string }>(NOTHING);
  const [attempt, setAttempt] = useState(0);
  const [appliedKey, setAppliedKey] = useState('');
  const [goesOn, setGoesOn] = useState(false);
  const stop = useRef(() => {});
  const hasPlanned = useRef(false);
  const { start, ...work } = useTask<AppliedChange & { preview: Preview }>();
  const applied = work.done?.result ?? null;
  const { undone, button: undoButton } = useUndo(applied?.applied, undo);
  /** What was done last; null once it was taken back. */
  const result = undone ? null : applied;
  const isAgain = result !== null && appliedKey === key;
  const isDone = isAgain && !goesOn;

  // biome-ignore lint/correctness/useExhaustiveDependencies: another attempt is another plan
  useEffect(() => {
    if (isDone) return;
    if (wanted === '') {
      setState(NOTHING);
      return;
    }
    let isWanted = true;
    let task: string | null = null;
    const show = (shown: Partial<typeof state>) => {
      if (isWanted) setState((before) => ({ ...before, ...shown }));
    };
    const plan = async () => {
      const wish = { intent: 'plan', task: uuid(), ...JSON.parse(key) };
      const answer = await post<Answer<Preview>>(address, wish, () => isWanted);
      if ('planned' in answer) return answer.planned;
      if ('refused' in answer) throw new Error(answer.refused);
      task = answer.task;
      if (!isWanted) void cancelTask(projectId, task);
      const ended = await untilEnded<PlannedView<Preview>>(
        addressIn(projectId, 'tasks'),
        task,
        (progress) => show({ progress }),
        () => isWanted,
      );
      if (ended?.state === 'failed') throw new Error(ended.error ?? 'It cannot be planned. Try again.');
      return ended?.result ?? null;
    };
    show({ isStopped: false, progress: null });
    stop.current = () => {
      show({ isStopped: true, progress: null });
      isWanted = false;
      if (task !== null) void cancelTask(projectId, task);
    };
    const begin = () =>
      plan().then(
        (planned) => show({ planned, refusal: null, key: wanted, progress: null }),
        (error: Error) => show({ refusal: error.message, key: wanted, progress: null }),
      );
    const timer = setTimeout(begin, hasPlanned.current ? PAUSE : 0);
    hasPlanned.current = true;
    return () => {
      clearTimeout(timer);
      isWanted = false;
      if (task !== null) void cancelTask(projectId, task);
    };
  }, [wanted, address, projectId, attempt, isDone]);

  const { planned, refusal, progress, isStopped } = state;
  const isStale = !isDone && state.key !== wanted;
  /** @returns what came of it; null when it failed, was cancelled, or nothing is shown that could be applied */
  const apply = useCallback(async () => {
    if (!planned || isStale || refusal !== null) return null;
    const wish = { intent: 'apply', ...JSON.parse(key), seen: planned.seen };
    const done = await start('operations', wish, planned.summary);
    if (done) {
      setAppliedKey(key);
      setGoesOn(false);
    }
    return done;
  }, [planned, isStale, refusal, start, key]);
  const planning: Planning<Preview> = {
    planned,
    refusal: isStale ? null : refusal,
    isStale,
    progress,
    isStopped,
  };
  return {
    ...planning,
    apply,
    work,
    /** Whether just these choices were carried out before. */
    isAgain,
    /** Whether what is shown was just carried out: it stays in view until another choice is made. */
    isDone,
    /** Plans just the same once more. */
    goOn: () => setGoesOn(true),
    result,
    undoButton,
    stop: () => stop.current(),
    again: () => setAttempt(attempt + 1),
  };
}
