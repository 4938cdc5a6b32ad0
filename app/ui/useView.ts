import { useCallback } from 'react';
import { useSearchParams } from 'react-router';

/**
 * What a page shows lives in its address: a filter, a selection, an open tab. Values that are null or '' leave it.
 * Nothing is reloaded for names in `quiet`.
 */
export function useView(): [URLSearchParams, (changes: { [name: string]: string | null }) => void] {
  const [search, setSearch] = useSearchParams();
  const change = useCallback(
    (changes: { [name: string]: string | null }) => {
      setSearch(
        (before) => {
          const after = new URLSearchParams(before);
          for (const [name, value] of Object.entries(changes)) {
            if (value === null || value === '') after.delete(name);
            else after.set(name, value);
          }
          return after;
        },
        { replace: true, preventScrollReset: true },
      );
    },
    [setSearch],
  );
  return [search, change];
}

/** Search parameters that only change what is shown of data that is there already. */
const SHOWN_ONLY = ['sel', 'q', 'closed', 'hidden'];

/** For `shouldRevalidate`: true when two addresses want the same data. */
export function sameData(a: URL, b: URL): boolean {
  const bare = (url: URL) => {
    const search = new URLSearchParams(url.search);
    for (const name of SHOWN_ONLY) search.delete(name);
    return `${url.pathname}?${search}`;
  };
  return bare(a) === bare(b);
}
