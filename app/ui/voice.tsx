import { VisuallyHidden } from '@mantine/core';
import { useSyncExternalStore } from 'react';

let said = '';
const hearers = new Set<() => void>();

/** Says to screen readers what was done, on whatever page one is by then. */
export function announce(words: string): void {
  // The same once more is to be heard once more.
  said = words === said ? `${words}\u00a0` : words;
  for (const hear of hearers) hear();
}

function listen(hear: () => void): () => void {
  hearers.add(hear);
  return () => hearers.delete(hear);
}

/** Where it is said: one place that is always there, so that it is heard. */
export function Voice() {
  const words = useSyncExternalStore(
    listen,
    () => said,
    () => '',
  );
  return <VisuallyHidden role="status">{words}</VisuallyHidden>;
}
