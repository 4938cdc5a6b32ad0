import { useLocalStorage } from '@mantine/hooks';
import { useCallback } from 'react';

/** So many are remembered, the newest first. */
const MOST = 20;

/** The files of a project that were looked at last in this browser. @returns their paths, and what is told of one that is looked at */
export function useRecentFiles(projectId: string): [readonly string[], (path: string) => void] {
  const [kept, setKept] = useLocalStorage<unknown>({
    key: `stonetray recent files ${projectId}`,
    defaultValue: [],
  });
  const recent = pathsIn(kept);
  const note = useCallback(
    (path: string) =>
      setKept((before: unknown) =>
        [path, ...pathsIn(before).filter((other) => other !== path)].slice(0, MOST),
      ),
    [setKept],
  );
  return [recent, note];
}

/** What another version has kept may be no list. */
function pathsIn(kept: unknown): string[] {
  return Array.isArray(kept) ? kept.filter((path) => typeof path === 'string') : [];
}
