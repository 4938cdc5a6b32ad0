import { useCallback, useState } from 'react';
import type { AppliedChange, PlannedView } from '#server/views/operations/planned-view';
import { useAnswer } from '../task/useAnswer';
import { useTask } from '../task/useTask';
import { useUndo } from '../task/useUndo';
import { announce } from '../voice';

/**
 * What an operation would do with some choices, made again whenever they or the project are others; and carrying it out just
 * as it is shown.
 * @param choices null while there is nothing to plan
 * @param undo the words on the button that takes it back
 */
export function useOperation<Preview>(operation: string, choices: object | null, undo?: string) {
  const asked = choices === null ? null : { operation, choices };
  const key = asked === null ? '' : JSON.stringify(asked);
  const [appliedKey, setAppliedKey] = useState('');
  const [goesOn, setGoesOn] = useState(false);
  const { start, ...work } = useTask<AppliedChange & { preview: Preview }>();
  const applied = work.done?.result ?? null;
  const { undone, button: undoButton } = useUndo(applied?.applied, undo);
  /** What was done last; null once it was taken back. */
  const result = undone ? null : applied;
  const isAgain = result !== null && appliedKey === key;
  const isDone = isAgain && !goesOn;
  const { found: planned, ...planning } = useAnswer<PlannedView<Preview>>('plan', asked, isDone);
  const { isStale, refusal } = planning;
  /** @returns what came of it; null when it failed, was cancelled, or nothing is shown that could be applied */
  const apply = useCallback(async () => {
    if (!planned || isStale || refusal !== null) return null;
    const wish = { intent: 'apply', ...JSON.parse(key), seen: planned.seen };
    const done = await start(wish, planned.summary);
    if (done) {
      setAppliedKey(key);
      setGoesOn(false);
      announce(`${done.result.summary}: done`);
    }
    return done;
  }, [planned, isStale, refusal, start, key]);
  return {
    planned,
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
  };
}
