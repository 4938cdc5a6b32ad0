import { useEffect, useRef } from 'react';

/**
 * A value that finds its way through the address, for what follows faster than that: whoever changes it writes it here, too, and whoever
 * builds on it reads it here.
 */
export function useNewest<Value>(value: Value): React.RefObject<Value> {
  const newest = useRef(value);
  useEffect(() => {
    newest.current = value;
  }, [value]);
  return newest;
}
