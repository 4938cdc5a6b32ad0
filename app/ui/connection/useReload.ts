import { useCallback, useEffect, useRef } from 'react';
import { useRevalidator } from 'react-router';
import { sessionLives } from './connection';

/**
 * Loads anew what a page shows. What is asked for while that is under way is done once afterwards; where the server does not answer, or
 * the session has ended, the page stays as it is until that is over.
 */
export function useReload(): () => Promise<void> {
  const { revalidate } = useRevalidator();
  const current = useRef<{ running: Promise<void> | null; isAgain: boolean }>({
    running: null,
    isAgain: false,
  });
  return useCallback(() => {
    const state = current.current;
    if (state.running) {
      state.isAgain = true;
      return state.running;
    }
    const run = async () => {
      do {
        state.isAgain = false;
        await sessionLives();
        await revalidate();
      } while (state.isAgain);
    };
    state.running = run().finally(() => {
      state.running = null;
    });
    return state.running;
  }, [revalidate]);
}

/** Milliseconds: what happens in a row is loaded once. */
const GATHERED = 700;

/** The same a little later, once for all that is asked for meanwhile. */
export function useReloadSoon(): () => void {
  const reload = useReload();
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(
    () => () => {
      clearTimeout(timer.current);
      timer.current = undefined;
    },
    [],
  );
  return useCallback(() => {
    timer.current ??= setTimeout(() => {
      timer.current = undefined;
      void reload();
    }, GATHERED);
  }, [reload]);
}
