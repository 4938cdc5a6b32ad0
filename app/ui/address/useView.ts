import { useCallback, useEffect, useMemo, useState } from 'react';
import { type ShouldRevalidateFunctionArgs, useLocation, useSearchParams } from 'react-router';
import { useIsHydrated } from '../useIsHydrated';
import { fromAddress, inAddress, isKey, lookUp } from './long-values';

/** The newest address that was asked for and is not there yet: the next change builds on it. */
let pending: { from: string; search: URLSearchParams } | null = null;

/**
 * What a page shows lives in its address: a filter, a selection, an open tab. Values that are null or '' leave it.
 * Changes that follow each other while the page still loads add up. What is too long for an address stands there by a key; until it is
 * known what that means it is as if it were not there.
 */
export function useView(): [URLSearchParams, (changes: { [name: string]: string | null }) => void] {
  const [search, setSearch] = useSearchParams();
  const { key, pathname } = useLocation();
  const projectId = pathname.split('/')[2] ?? '';
  const [lookedUp, setLookedUp] = useState(0);
  // The server knows no key, so that the first picture of a page is without them.
  const isThere = useIsHydrated();
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was looked up is known now
  const [view, unknown] = useMemo(() => expanded(search, isThere), [search, isThere, lookedUp]);
  useEffect(() => {
    if (unknown.length === 0 || !isThere) return;
    let isWanted = true;
    void Promise.all(unknown.map((value) => lookUp(projectId, value, () => isWanted))).then(
      (found) => isWanted && found.includes(true) && setLookedUp((count) => count + 1),
    );
    return () => {
      isWanted = false;
    };
  }, [unknown, projectId, isThere]);
  const change = useCallback(
    (changes: { [name: string]: string | null }) => {
      const after = new URLSearchParams(pending?.from === key ? pending.search : search);
      for (const [name, value] of Object.entries(changes)) {
        if (value === null || value === '') after.delete(name);
        else after.set(name, inAddress(projectId, value));
      }
      pending = { from: key, search: after };
      setSearch(after, { replace: true, preventScrollReset: true });
    },
    [key, search, setSearch, projectId],
  );
  return [view, change];
}

/** Parameters with what their keys stand for, and the keys that are not known. */
function expanded(search: URLSearchParams, isThere: boolean): [URLSearchParams, readonly string[]] {
  const view = new URLSearchParams();
  const unknown: string[] = [];
  for (const [name, written] of search) {
    const value = isThere || !isKey(written) ? fromAddress(written) : undefined;
    if (value === undefined) unknown.push(written);
    else view.set(name, value);
  }
  return [view, unknown];
}

/** Search parameters that only change what is shown of data that is there already. */
const SHOWN_ONLY = [
  'also',
  'colours',
  'do',
  'folder',
  'only',
  'eye',
  'view',
  'sel',
  'sort',
  'q',
  'closed',
  'open',
  'hidden',
  'flatten',
  'prefix',
  'suffix',
  'gone',
  'take',
  'detach',
  'section',
  'within',
  'table',
  'with',
  'product',
];

/** For `shouldRevalidate`: true when two addresses want the same data. */
function sameData(a: URL, b: URL): boolean {
  const bare = (url: URL) => {
    const search = new URLSearchParams(url.search);
    for (const name of SHOWN_ONLY) search.delete(name);
    return `${url.pathname}?${search}`;
  };
  return bare(a) === bare(b);
}

/** A text of the address that is typed: it answers at once and follows into the address a moment later. */
export function useTyped(name: string): [string, (text: string) => void] {
  const [view, change] = useView();
  const [text, setText] = useState(view.get(name) ?? '');
  useEffect(() => {
    if ((view.get(name) ?? '') === text) return;
    const timer = setTimeout(() => change({ [name]: text }), 250);
    return () => clearTimeout(timer);
  }, [name, text, view, change]);
  return [text, setText];
}

/** For routes whose data does not depend on what is only shown differently. */
export const revalidateOnNewData = ({
  currentUrl,
  nextUrl,
  formMethod,
  defaultShouldRevalidate,
}: ShouldRevalidateFunctionArgs) => {
  const shownOnly =
    formMethod === undefined && currentUrl.href !== nextUrl.href && sameData(currentUrl, nextUrl);
  return shownOnly ? false : defaultShouldRevalidate;
};
