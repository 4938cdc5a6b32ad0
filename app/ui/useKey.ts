import { useEffect, useRef } from 'react';

/** Where keys are letters. */
const FIELDS = 'input, textarea, select, [contenteditable=true]';

/** Has a sign of the keyboard do something wherever nobody types, on every layout: whether Shift makes it is not asked. */
export function useKey(sign: string, act: () => void): void {
  const current = useRef(act);
  current.current = act;
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.key !== sign || event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented)
        return;
      if ((event.target as HTMLElement | null)?.closest?.(FIELDS)) return;
      event.preventDefault();
      current.current();
    };
    addEventListener('keydown', onKeyDown);
    return () => removeEventListener('keydown', onKeyDown);
  }, [sign]);
}
