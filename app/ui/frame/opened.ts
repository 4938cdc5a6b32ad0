import { useSyncExternalStore } from 'react';

/** Whether the list of keys is open. It is fetched after the page: a key that is pressed before is not lost. */
let areKeysOpen = false;
const listeners = new Set<() => void>();

export function openKeys(isOpen: boolean): void {
  areKeysOpen = isOpen;
  for (const listener of listeners) listener();
}

export function useKeysOpen(): boolean {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => areKeysOpen,
    () => false,
  );
}

/** Opens the palette, as soon as it is there: it is fetched after the page, and so is what opens it. */
export async function openFind(): Promise<void> {
  (await import('@mantine/spotlight')).spotlight.open();
}
