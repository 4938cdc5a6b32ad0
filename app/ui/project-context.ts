import type { FileToWorkOn } from '#core/accepts';
import type { OperationEntry } from '#core/operation';
import type { Sending } from './useSending';

/** What every view of a project knows. */
export interface ProjectContext {
  projectId: string;
  /** Counts the changes of the project: plans are made again when it has another. */
  revision: number;
  mayEdit: boolean;
  operations: readonly OperationEntry[];
  /** Tells the palette which files are selected in the view. */
  select: (files: readonly FileToWorkOn[]) => void;
  /** How far the preparation of shapes is. */
  shapes: { open: number; failed: number; total: number };
  /** Files on their way from this computer. */
  sending: Sending;
}
