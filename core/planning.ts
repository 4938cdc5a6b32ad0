import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import type { Kernel } from '#core/geometry/shape/kernel';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import type { ChangeSet, NamedContent } from '#core/project/change/change-set';
import { Draft } from '#core/project/change/draft';
import type { FileSet } from '#core/project/change/file-set';
import type { ReceivedFile } from '#core/project/change/received-file';
import type { WhichChange } from '#core/project/change/standing';
import type { Unpacked } from '#core/project/change/unpack';
import type { ContentScan } from '#core/project/scan/content';
import type { Project } from '#core/project/scan/project';

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

/** A version of a file that is no longer the newest. */
export interface OlderVersion {
  scan: ContentScan;
  /** What the kernel found out about its bodies, if it ever looked. */
  measured?: ReadonlyMap<number, MeasuredBody>;
}

/** What an operation has to work with besides. */
export interface PlanContext extends Planning {
  /** The file that is there and is made again, by the operation that made it: it keeps its place. */
  remadeFile?: string;
  kernel: Kernel;
  /** Aborted when nobody waits for the plan any more. */
  signal: AbortSignal;
  /**
   * What the kernel found out about the bodies of a file; those of one product are enough, where it is named.
   * @throws Refusal while it is still at it
   */
  measured(path: string, product?: string | null): Promise<ReadonlyMap<number, MeasuredBody>>;
  /**
   * The meshes of the bodies of a file, by the number of the body; a body that the kernel makes nothing of has none.
   * @throws Refusal while they are still being made
   */
  meshes(path: string): Promise<ReadonlyMap<number, GeometryOfBody>>;
  /** What takes a recorded change back. @throws Refusal when there is none, or it was taken back before */
  inverseOf(which: WhichChange): Promise<ChangeSet>;
  /** What arrived from outside under a name: an upload, or a file or folder on disk; nothing where nothing did. */
  received(name: string): Promise<ReceivedFile[]>;
  /** Whether nothing was ever done in the project, and whoever asks owns it: a history can be brought into it. */
  isUntouched: boolean;
  /** What is in a zip that arrived. @throws ArchiveError */
  unpacked(zip: ReceivedFile): Promise<Unpacked>;
  /** What contents from outside say, by the paths that they shall have. */
  scansOf(contents: readonly NamedContent[]): Promise<ReadonlyMap<string, ContentScan>>;
  /** An older version of a file, by its hash; undefined when it was never here. */
  olderVersion(path: string, sha256: string): Promise<OlderVersion | undefined>;
  /**
   * Makes something that costs much, or gives what was made for the same key before; a few are kept.
   * @param isLarge many megabytes: only one or two of these are kept
   */
  remember<Made>(key: string, make: () => Promise<Made>, isLarge?: boolean): Promise<Made>;
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
