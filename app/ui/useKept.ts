import { useCallback, useEffect, useRef, useState } from 'react';

interface Kept<State> {
  state: State;
  setState: (next: State | ((before: State) => State)) => void;
  /** What was kept was chosen for another version of the file, and was put aside. */
  isOutdated: boolean;
  /** It was carried out, or is not wanted any more. */
  forget: () => void;
}

/** Reads what was kept. */
export interface Reader<State> {
  safeParse(kept: unknown): { success: true; data: State } | { success: false };
}

/**
 * A state of a page that outlives it: a reload, going back, another page. It is kept by this tab of the browser.
 * @param name what it is of: page, project, file
 * @param version of the file; what was chosen for another one is put aside
 * @param schema what is kept is read by it, since an older page may have written it: a Zod schema, or for pages that fetch none of those
 *   something that does the same
 */
export function useKept<State>(
  name: string,
  version: string,
  schema: Reader<State>,
  initial: () => State,
): Kept<State> {
  const [state, set] = useState(initial);
  const [isOutdated, setOutdated] = useState(false);
  const isMine = useRef(false);
  const key = `stonetray kept ${name}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the schema of a page is always the same
  useEffect(() => {
    const kept = readKept(key);
    if (kept === null) return;
    if (kept.version !== version) {
      setOutdated(true);
      sessionStorage.removeItem(key);
      return;
    }
    const read = schema.safeParse(kept.state);
    if (!read.success) return;
    isMine.current = true;
    set(read.data);
  }, [key, version]);
  useEffect(() => {
    if (!isMine.current) return;
    try {
      sessionStorage.setItem(key, JSON.stringify({ version, state }));
    } catch {
      // The browser keeps no more: the page works all the same.
    }
  }, [key, version, state]);
  const setState = useCallback((next: State | ((before: State) => State)) => {
    isMine.current = true;
    set(next);
  }, []);
  const forget = useCallback(() => {
    isMine.current = false;
    setOutdated(false);
    sessionStorage.removeItem(key);
  }, [key]);
  return { state, setState, isOutdated, forget };
}

function readKept(key: string): { version?: unknown; state?: unknown } | null {
  try {
    return JSON.parse(sessionStorage.getItem(key) ?? 'null');
  } catch {
    return null;
  }
}
