import type { ChildProcess } from 'node:child_process';

export interface Kept {
  readonly child: ChildProcess;
  ended: Promise<void>;
  end(patience?: number): Promise<void>;
}
export function keepRunning(
  name: string,
  start: () => ChildProcess,
  options?: { say?: (words: string) => void; pause?: number },
): Kept;
