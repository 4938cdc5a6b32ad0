import type { Readable } from 'node:stream';
import type { z } from 'zod';
import type { Accepts } from './accepts';
import type { GeometryOfBody } from './geometry/shape/gltf';
import type { Kernel } from './geometry/shape/kernel';
import type { MeasuredBody } from './geometry/shape/placed-shape';
import type { Place } from './places';
import type { ChangeSet, NamedContent } from './project/change/change-set';
import { Draft } from './project/change/draft';
import type { FileSet } from './project/change/file-set';
import type { ReceivedFile } from './project/change/received-file';
import type { SeenVersion } from './project/change/seen';
import type { Unpacked } from './project/change/unpack';
import type { ContentScan } from './project/scan/content';
import type { Project } from './project/scan/project';
import { Refusal } from './refusal';

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
  /** What takes a recorded change back; the latest one for null. @throws Refusal when there is none, or it was taken back before */
  inverseOf(change: string | null): Promise<ChangeSet>;
  /** What arrived from outside under a name: an upload, or a file or folder on disk; nothing where nothing did. */
  received(name: string): Promise<ReceivedFile[]>;
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

/** What an operation would do. */
export interface Planned<Preview> {
  change: ChangeSet;
  /** What a page or a program wants to know besides. */
  preview: Preview;
  /** Why it cannot be carried out as it is chosen, although there is something to look at. */
  hindrance?: string;
  /** A file that it makes for the person, outside the project. */
  product?: Product;
}

/** A file that is made for the person who asked. */
export interface Product {
  name: string;
  /** Makes it. @returns its bytes as a stream, and what it holds, for programs */
  write(): Promise<{ stream: Readable; contents: unknown }>;
}

/** An operation as menus and the palette show it. */
export interface OperationEntry {
  /** Its name in addresses, in records and on the command line. */
  name: string;
  title: string;
  /** One sentence. */
  purpose: string;
  place: Place;
  /** The page's address under the project's. */
  page: string;
  /** What the page is called, where that is another word. */
  pageTitle?: string;
  /** The role that applying it needs. Everybody may see what it would do. */
  role: 'viewer' | 'editor';
  accepts: Accepts;
}

/** Everything that the interface, the command line and the job worker have to know of one operation. */
export interface Operation<Choices extends object = object, Preview = unknown> extends OperationEntry {
  /** What its command is called, where that is another word. */
  command?: string;
  choices: z.ZodType<Choices>;
  /** Quick: planned while the page waits, in less than 100 ms. Slow: planned by the job worker. */
  cost: 'quick' | 'slow';
  /** @throws Refusal in words for the person who asked */
  plan(context: PlanContext, choices: Choices): Promise<Planned<Preview>>;
}

/** Describes an operation. */
export function operation<Choices extends object, Preview>(
  described: Operation<Choices, Preview>,
): Operation<Choices, Preview> {
  return described;
}

/**
 * Plans an operation.
 * @param asked choices as somebody wrote them
 * @returns the plan with its operation and choices, and what it rests on
 * @throws Refusal also for choices that cannot be read
 */
export async function planOperation<Choices extends object, Preview>(
  { name, choices: schema, plan }: Operation<Choices, Preview>,
  context: PlanContext,
  asked: unknown,
): Promise<Planned<Preview> & { seen: SeenVersion[] }> {
  const read = schema.safeParse(asked);
  if (!read.success) throw new Refusal(`The choices for ${name} cannot be read: ${inWords(read.error)}.`);
  const { change, ...rest } = await plan(context, read.data);
  const made = { operation: name, choices: read.data };
  return { ...rest, change: { ...change, made }, seen: context.draft.seen() };
}

function inWords({ issues }: z.ZodError): string {
  return issues
    .slice(0, 3)
    .map(({ path, message }) => `${path.join('.') || 'all of them'}: ${message}`)
    .join('; ');
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
