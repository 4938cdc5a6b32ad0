import { useEffect, useRef } from 'react';
import { useOutletContext } from 'react-router';
import type { ProjectContext } from '../project/project-context';
import type { Answering } from './useAnswer';

/**
 * Looks again, once, when an answer was made while shapes were still being prepared and none are on their way now: the same question has an
 * answer that is kept. Shapes that failed or were cancelled never come.
 * @param isPartial whether the answer lacks what was not measured yet
 */
export function useLookAgain<Found>(looking: Answering<Found>, isPartial: boolean): void {
  const { shapes } = useOutletContext<ProjectContext>();
  const hasLooked = useRef(false);
  const { isStale, again } = looking;
  useEffect(() => {
    if (shapes.open > 0) hasLooked.current = false;
    else if (isPartial && !isStale && !hasLooked.current) {
      hasLooked.current = true;
      again();
    }
  }, [isPartial, isStale, shapes.open, again]);
}
