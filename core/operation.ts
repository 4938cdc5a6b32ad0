import { Draft } from './change/draft';
import type { FileSet } from './change/file-set';
import type { Project } from './scan/project';

/** Says how far something is, in words and numbers. What it throws ends the work. */
export type Progress = (doing: string, done: number, of: number) => Promise<void>;

/** What every plan has to work with. */
export interface Planning {
  /** The files as they were scanned. */
  project: Project;
  /** What the plan reads and writes: the same files, and all that was planned before. */
  draft: Draft;
  /** When it is planned; it goes into the headers of new files. */
  now: Date;
  progress: Progress;
}

/** A new plan on some files. */
export function planningOn(
  project: Project,
  files: Pick<FileSet, 'read'>,
  { now = new Date(), progress = async () => {} }: { now?: Date; progress?: Progress } = {},
): Planning {
  return { project, draft: new Draft(files, project), now, progress };
}

/** The time as file headers write it: ISO 8601, UTC, without zone. */
export function timeStampOf(now: Date): string {
  return now.toISOString().slice(0, 19);
}
