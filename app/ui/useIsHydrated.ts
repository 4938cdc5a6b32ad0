import { useSyncExternalStore } from 'react';

const never = () => () => {};

/** Whether the page lives in a browser: false on the server, and for the first picture there, which must be the server's. */
export function useIsHydrated(): boolean {
  return useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
}
