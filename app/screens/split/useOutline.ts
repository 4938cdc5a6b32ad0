import { useEffect, useState } from 'react';
import { useFetcher } from 'react-router';
import type { SplitChoices } from '#core/split/choices';
import type { SplitOutlineView } from '#server/views/split-view';
import type { action as outlineAction } from '../../routes/split-outline';
import { asRequest } from '../../ui/json-request';

/** Asks for the plan whenever a choice changes, a moment after the last one. */
export function useOutline(
  projectId: string,
  path: string | null,
  sha256: string,
  choices: SplitChoices,
  ready: boolean,
) {
  const fetcher = useFetcher<typeof outlineAction>();
  const { submit } = fetcher;
  useEffect(() => {
    if (path === null || !ready) return;
    const timer = setTimeout(() => {
      submit(asRequest({ file: path, sha256, choices }), {
        method: 'post',
        action: `/projects/${projectId}/split-outline`,
        encType: 'application/json',
      });
    }, 150);
    return () => clearTimeout(timer);
  }, [projectId, path, sha256, choices, ready, submit]);
  const [last, setLast] = useState<SplitOutlineView | null>(null);
  useEffect(() => {
    if (fetcher.data && 'outline' in fetcher.data) setLast(fetcher.data.outline ?? null);
  }, [fetcher.data]);
  return {
    outline: last,
    trouble: fetcher.data && 'error' in fetcher.data ? (fetcher.data.error ?? null) : null,
  };
}
