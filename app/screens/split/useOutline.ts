import { useEffect, useState } from 'react';
import type { SplitChoices } from '#core/split/choices';
import type { SplitOutlineView } from '#server/views/split-view';
import { post } from '../../ui/json-request';

/** Asks for the plan whenever a choice changes, a moment after the last one; the plan of before stays until it is there. */
export function useOutline(
  projectId: string,
  path: string | null,
  sha256: string,
  choices: SplitChoices,
  ready: boolean,
): { outline: SplitOutlineView | null; trouble: string | null } {
  const [answer, setAnswer] = useState<{ outline: SplitOutlineView | null; trouble: string | null }>({
    outline: null,
    trouble: null,
  });
  useEffect(() => {
    if (path === null || !ready) return;
    const asking = new AbortController();
    const timer = setTimeout(() => {
      post<{ outline: SplitOutlineView }>(
        `/projects/${projectId}/split-outline`,
        { file: path, sha256, choices },
        asking.signal,
      )
        .then(({ outline }) => setAnswer({ outline, trouble: null }))
        .catch((error: Error) => {
          if (!asking.signal.aborted) setAnswer(({ outline }) => ({ outline, trouble: error.message }));
        });
    }, 150);
    return () => {
      clearTimeout(timer);
      asking.abort();
    };
  }, [projectId, path, sha256, choices, ready]);
  return answer;
}
