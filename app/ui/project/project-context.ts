import type { FileToWorkOn } from '#core/accepts';
import type { RegistryEntry } from '#core/entry';
import type { Sending } from '../sending/useSending';

/** What every view of a project knows. */
export interface ProjectContext {
  projectId: string;
  /** Counts the changes of the project: plans are made again when it has another. */
  revision: number;
  mayEdit: boolean;
  operations: readonly RegistryEntry[];
  /** Tells the palette which files are selected in the view. */
  select: (files: readonly FileToWorkOn[]) => void;
  /** How far the preparation of shapes is. */
  shapes: { open: number; failed: number; total: number };
  /** Files on their way from this computer. */
  sending: Sending;
}
