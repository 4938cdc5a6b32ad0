import { useEffect, useRef } from 'react';
import { useOutletContext } from 'react-router';
import type { ProjectContext } from '../project/project-context';
import type { Answering } from './useAnswer';

/**
 * Looks again, once, when an answer was made while shapes were still being prepared and they are there now: the same question has an answer
 * that is kept.
 * @param isPartial whether the answer lacks what was not measured yet
 */
export function useLookAgain<Found>(looking: Answering<Found>, isPartial: boolean): void {
  const { shapes } = useOutletContext<ProjectContext>();
  const seen = useRef<Found | null>(null);
  const { found, isStale, again } = looking;
  useEffect(() => {
    if (!isPartial || isStale || found === null || shapes.open > 0 || seen.current === found) return;
    seen.current = found;
    again();
  }, [isPartial, isStale, found, shapes.open, again]);
}
