import { useEffect, useState } from 'react';
import type { CutChoices } from '#core/cut/plan';
import type { ChangedFile } from '#server/views/cut-view';
import { post } from '../../ui/json-request';

interface CutPlan {
  files: ChangedFile[];
  warnings: string[];
}

/** Asks what keeping the pieces would change, a moment after the last choice. */
export function useCutPlan(projectId: string, id: string | null, choices: CutChoices) {
  const [answer, setAnswer] = useState<{ plan: CutPlan | null; trouble: string | null }>({
    plan: null,
    trouble: null,
  });
  useEffect(() => {
    setAnswer({ plan: null, trouble: null });
    if (id === null) return;
    let gone = false;
    const timer = setTimeout(() => {
      post<{ plan: CutPlan }>(`/projects/${projectId}/cuts`, { id, choices })
        .then(({ plan }) => !gone && setAnswer({ plan, trouble: null }))
        .catch((error: Error) => !gone && setAnswer({ plan: null, trouble: error.message }));
    }, 200);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [projectId, id, choices]);
  return answer;
}
