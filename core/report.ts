import type { z } from 'zod';
import { readChoices } from './choices';
import type { RegistryEntry } from './entry';
import type { GeometryOfBody } from './geometry/shape/gltf';
import type { MeasuredBody } from './geometry/shape/placed-shape';
import type { Progress } from './planning';
import type { FileSet } from './project/change/file-set';
import type { Unpacked } from './project/change/unpack';
import type { Project } from './project/scan/project';

/** What a report has to work with. Nothing of it changes anything. */
export interface LookContext {
  files: Pick<FileSet, 'read'>;
  /** The files as they were scanned. @param searchFolders in which files are looked for besides; the project's own unless it is said */
  project(searchFolders?: readonly string[]): Promise<Project>;
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
  /** What is in a zip that arrived under a name. @throws Refusal when nothing did; ArchiveError */
  unpacked(name: string): Promise<Unpacked>;
  /** What was done, oldest first. */
  history(): Promise<{ id: string; time: string; summary: string }[]>;
  /**
   * The files at another moment: before the change of an id, or as they lie in another folder.
   * @throws Refusal when there is no such moment
   */
  moment(name: string): Promise<Pick<Project, 'files'>>;
  progress: Progress;
  /** Aborted when nobody waits any more. */
  signal: AbortSignal;
}

/** What a column is called, with its unit, and how it is set: numbers to the right, paths with room, states of links by their marks. */
export interface ReportColumn {
  title: string;
  kind?: 'number' | 'path' | 'state' | 'short';
}

/** A table of a report: as a page lists it, and as CSV. */
export interface ReportTable {
  title: string;
  columns: readonly ReportColumn[];
  rows: readonly (readonly (string | number | null)[])[];
}

/**
 * What the interface, the command line and the job worker have to know of one report: a question that changes nothing. Everything shown of it
 * comes from its data, which is plain.
 */
export interface Report<Choices extends object = object, Data extends object = object> extends RegistryEntry {
  kind: 'report';
  role: 'viewer';
  choices: z.ZodType<Choices>;
  /** Quick: looked at while the page waits, in less than 100 ms. Slow: by the job worker. */
  cost: 'quick' | 'slow';
  /** The choice that its command takes as its argument. Without one it is about the folder that the command names. */
  argument?: keyof Choices & string;
  /** It reads that one file and nothing around it. */
  isOfOneFile?: true;
  /** It is about what leads to its files as well: its command looks in the whole project, not just below them. */
  isAboutUsers?: true;
  /** @throws Refusal in words for the person who asked */
  look(context: LookContext, choices: Choices): Promise<Data>;
  /** What programs get, where it is not the data itself. */
  json?(data: Data): unknown;
  /** For a terminal, and for people who read a page: the whole of it, in lines. */
  words(data: Data): string[];
  /** Tables in it, the main one first. */
  tables?(data: Data): ReportTable[];
  /** The whole of it in one sentence, where the last line of its words is none. */
  summary?(data: Data): string;
  /** Whether there is something to be seen to: its command ends with 1 then. */
  hasFindings?(data: Data): boolean;
}

/**
 * Describes a report.
 * @example report({ name: 'history', title: 'Activity', ..., look: async ({ history }) => ({ changes: await history() }), words: ... })
 */
export function report<Choices extends object, Data extends object>(
  described: Omit<Report<Choices, Data>, 'kind' | 'role'>,
): Report<Choices, Data> {
  return { kind: 'report', role: 'viewer', ...described };
}

/** What a report found, as pages show it. */
export interface LookedAt<Data extends object = object> {
  data: Data;
  words: string[];
  summary: string;
  tables: ReportTable[];
  hasFindings: boolean;
}

/**
 * Looks.
 * @param asked choices as somebody wrote them
 * @throws Refusal also for choices that cannot be read
 */
export async function lookAt<Choices extends object, Data extends object>(
  { name, choices, look, words, summary, tables, hasFindings }: Report<Choices, Data>,
  context: LookContext,
  asked: unknown,
): Promise<LookedAt<Data>> {
  const data = await look(context, readChoices(name, choices, asked));
  const lines = words(data);
  return {
    data,
    words: lines,
    summary: summary?.(data) ?? lines.at(-1) ?? '',
    tables: tables?.(data) ?? [],
    hasFindings: hasFindings?.(data) ?? false,
  };
}
