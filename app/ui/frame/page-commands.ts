import { useEffect, useId, useRef, useSyncExternalStore } from 'react';

/** Something that the page in view can do: it stands in the palette. */
export interface PageCommand {
  label: string;
  description: string;
  run: () => void;
  /** It stands at the end of the list, for those who type its name. */
  isMinor?: boolean;
}

let offered: readonly { of: string; command: PageCommand }[] = [];
const listeners = new Set<() => void>();

function tell(next: typeof offered): void {
  offered = next;
  for (const listener of listeners) listener();
}

/** Offers what a part of the page can do while it is there. What is false is not possible now. */
export function usePageCommands(commands: readonly (PageCommand | false)[]): void {
  const of = useId();
  const newest = useRef(commands);
  newest.current = commands;
  const labels = JSON.stringify(commands.map((command) => command && [command.label, command.description]));
  // biome-ignore lint/correctness/useExhaustiveDependencies: the same words are the same commands; the newest of them is run
  useEffect(() => {
    const mine = newest.current.flatMap((command, n) =>
      command ? [{ of, command: { ...command, run: () => (newest.current[n] || command).run() } }] : [],
    );
    tell([...offered.filter((other) => other.of !== of), ...mine]);
    return () => tell(offered.filter((other) => other.of !== of));
  }, [of, labels]);
}

const NONE: typeof offered = [];

/** What the parts of the page in view can do. */
export function useOfferedCommands(): readonly { of: string; command: PageCommand }[] {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => offered,
    () => NONE,
  );
}
