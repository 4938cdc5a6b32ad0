import { useCallback, useEffect, useRef, useState } from 'react';
import type { CutStep } from '#core/shape/cut';
import type { CutState, StoredPiece } from '#server/projects/cuts';
import { post, wordsOf } from '../../ui/json-request';

/** Cuts that were made, with the pieces that they left. */
export interface MadeCuts {
  id: string;
  steps: CutStep[];
  pieces: StoredPiece[];
}

interface Running {
  id: string | null;
  done: number;
  of: number;
}

/**
 * Has a body cut by the job worker, step after step, and keeps what each step gave, so that it can be taken back.
 * Nothing in the project changes.
 */
export function useCuts(projectId: string, part: { file: string; sha256: string; body: number | null }) {
  const [made, setMade] = useState<readonly MadeCuts[]>([]);
  const [running, setRunning] = useState<Running | null>(null);
  const [error, setError] = useState<string | null>(null);
  const address = `/projects/${projectId}/cuts`;
  const { file, sha256, body } = part;
  const current = made.at(-1) ?? null;
  const gone = useRef(false);
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);
  /** The newest thing that was asked for: answers to older ones are passed over. */
  const asked = useRef(0);

  /** @returns whether the cut was made */
  const cut = useCallback(
    async (step: CutStep): Promise<boolean> => {
      const mine = ++asked.current;
      const isOld = () => gone.current || mine !== asked.current;
      const steps = [...(current?.steps ?? []), step];
      setError(null);
      setRunning({ id: null, done: 0, of: steps.length });
      try {
        const { id } = await post<{ id: string }>(address, {
          intent: 'start',
          cut: { file, sha256, body, steps },
        });
        for (let pause = 120; !isOld(); pause = Math.min(1000, pause * 1.4)) {
          await new Promise((resolve) => setTimeout(resolve, pause));
          const answer = await fetch(`${address}?cut=${id}`);
          if (!answer.ok) throw new Error(await wordsOf(answer));
          const state = (await answer.json()) as CutState;
          if (isOld()) return false;
          if (state.state === 'failed') throw new Error(state.error ?? 'The cut failed.');
          if (state.state === 'cancelled') break;
          if (state.state === 'done') {
            setMade((before) => [...before, { id, steps, pieces: state.pieces ?? [] }]);
            setRunning(null);
            return true;
          }
          setRunning({ id, done: state.done, of: steps.length });
        }
      } catch (trouble) {
        if (!isOld()) setError(trouble instanceof Error ? trouble.message : String(trouble));
      }
      if (!isOld()) setRunning(null);
      return false;
    },
    [address, file, sha256, body, current],
  );
  const cancel = useCallback(() => {
    asked.current++;
    setRunning(null);
    if (running?.id) void post(address, { intent: 'cancel', id: running.id }).catch(() => {});
  }, [address, running]);
  const takeBack = useCallback(() => {
    setError(null);
    setMade((before) => before.slice(0, -1));
  }, []);
  return { current, running, error, cut, cancel, takeBack };
}
