import { useCallback, useState } from 'react';
import type { CutStep } from '#core/shape/cut';
import type { CutResult, StoredPiece } from '#server/projects/cuts';
import { useTask } from '../../ui/useTask';

/** Cuts that were made, with the pieces that they left. */
export interface MadeCuts {
  id: string;
  steps: CutStep[];
  pieces: StoredPiece[];
}

/**
 * Has a body cut by the job worker, step after step, and keeps what each step gave, so that it can be taken back.
 * Nothing in the project changes.
 */
export function useCuts({ file, sha256, body }: { file: string; sha256: string; body: number | null }) {
  const [made, setMade] = useState<readonly MadeCuts[]>([]);
  const { running, error, start, cancel, clearError } = useTask<CutResult>();
  const current = made.at(-1) ?? null;

  /** @returns whether the cut was made */
  const cut = useCallback(
    async (step: CutStep): Promise<boolean> => {
      const steps = [...(current?.steps ?? []), step];
      const done = await start('cut', { file, sha256, body, steps });
      if (done) setMade((before) => [...before, { id: done.id, steps, pieces: done.result.pieces }]);
      return done !== null;
    },
    [start, file, sha256, body, current],
  );
  const takeBack = useCallback(() => {
    clearError();
    setMade((before) => before.slice(0, -1));
  }, [clearError]);
  return { current, running, error, cut, cancel, takeBack };
}
