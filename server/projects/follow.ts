import { z } from 'zod';
import type { ChangeSet } from '#core/change/change-set';
import { additionsOf } from '#core/follow/additions';
import { planDetach } from '#core/follow/detach';
import {
  type ComponentContent,
  type FollowOutline,
  outlineFollow,
  type TakenVersion,
} from '#core/follow/outline';
import { planFollow } from '#core/follow/plan';
import { productOf, type Ties, tiesTo } from '#core/follow/ties';
import { planningOn } from '#core/operation';
import { Part21File } from '#core/part21/file';
import { Refusal } from '#core/refusal';
import type { Project } from '#core/scan/project';
import { openSource } from '#core/split/plan';
import type { Database } from '#server/db/connection';
import { measuredBodies, measuredContents } from '#server/jobs/shapes';
import { type TaskContext, taskKind } from '#server/jobs/tasks';
import type { AppliedChange } from '#server/views/planned-view';
import { applyInTask, basedOn } from './apply-in-task';
import { ProjectFileSet } from './project-files';
import { loadProject, scanStored } from './project-scan';

/** A file that others came out of. */
export interface SourceFile {
  path: string;
  /** Files that came out of it. */
  files: number;
  /** Of these, how many remember an older version. */
  behind: number;
}

/** Every source of a project, those that moved on first. */
export function sourcesOf(project: Project): SourceFile[] {
  const sources = new Map<string, SourceFile>();
  for (const { source, to, state } of project.links) {
    if (!source || to === null) continue;
    const entry = sources.get(to) ?? { path: to, files: 0, behind: 0 };
    entry.files++;
    if (state === 'behind') entry.behind++;
    sources.set(to, entry);
  }
  return [...sources.values()].sort((a, b) => b.behind - a.behind || (a.path < b.path ? -1 : 1));
}

/** Whether all that has to be compared is measured: the source, and every file that came out of it. */
export async function isMeasured(db: Database, project: Project, path: string): Promise<boolean> {
  const files = [path, ...tiesTo(project, path).components.map((component) => component.path)];
  const hashes = new Set(files.map((file) => project.files.get(file)!.sha256));
  return (await measuredContents(db, [...hashes])) === hashes.size;
}

const STILL_PREPARING = 'The shapes of this source are still being prepared.';

/**
 * What a source's newest version means for its files.
 * @param report told after each component that was read
 * @throws Refusal, also while shapes are still being prepared; Part21Error for a source that cannot be read
 */
export async function makeFollowOutline(
  db: Database,
  projectId: string,
  project: Project,
  path: string,
  report: (done: number, of: number) => Promise<void> = async () => {},
): Promise<FollowOutline> {
  const measuredAt = async (file: string) => {
    const measured = await measuredBodies(db, project.files.get(file)!.sha256);
    if (!measured) throw new Refusal(STILL_PREPARING);
    return measured;
  };
  const measured = await measuredAt(path);
  const ties = tiesTo(project, path);
  const files = new ProjectFileSet(db, projectId);
  const contents = new Map<string, ComponentContent>();
  for (const [n, { path: component, link }] of ties.components.entries()) {
    await report(n, ties.components.length);
    const additions =
      link.state === 'behind' ? additionsOf(Part21File.read(await files.read(component))) : [];
    contents.set(component, { measured: await measuredAt(component), additions });
  }
  const taken = await takenVersions(db, path, ties);
  return outlineFollow(
    project,
    await openSource(files, path, productOf(ties)),
    measured,
    (component) => contents.get(component)!,
    taken,
  );
}

/** How the files of a source shall follow it. */
export const FollowRequest = z.object({
  source: z.string(),
  /** Bodies that the source no longer has leave the assembly. */
  removeGone: z.boolean(),
  /** Files that are taken from the source although they have changes of their own. */
  take: z.array(z.string()),
});
export type FollowRequest = z.infer<typeof FollowRequest>;

/** Brings the files of a source up to its newest version, as the page showed it. */
export const FOLLOW = taskKind<FollowRequest & { base: { path: string; base: string }[] }, AppliedChange>({
  role: 'editor',
  request: FollowRequest.extend({ base: z.array(z.object({ path: z.string(), base: z.string() })) }),
  async run(context, request) {
    const { plan } = await planFollowing(context, await loadProject(context.db, context.project), request);
    if (!plan) throw new Refusal('Every file is at the newest version of its source.');
    const files = new ProjectFileSet(context.db, context.project, context.user);
    await applyInTask(context, files, basedOn(plan, request.base), {});
  },
});

/** Detaches files from their source; null for all of them. */
export const CUT_TIE = taskKind<{ source: string; file: string | null }, AppliedChange>({
  role: 'editor',
  request: z.object({ source: z.string(), file: z.string().nullable() }),
  async run(context, { source, file }) {
    const files = new ProjectFileSet(context.db, context.project, context.user);
    const scanned = await loadProject(context.db, context.project);
    await applyInTask(
      context,
      files,
      await planDetach(planningOn(scanned, files), { source, paths: file === null ? null : [file] }),
      {},
    );
  },
});

/** A source compared with its files, and what following it would change: null when all are at its newest version. */
export async function planFollowing<Result>(
  { db, project, user, report }: TaskContext<Result>,
  scanned: Project,
  { source, removeGone, take }: FollowRequest,
): Promise<{ outline: FollowOutline; plan: ChangeSet | null }> {
  if (!scanned.files.has(source)) throw new Refusal(`There is no file ${source} any more.`);
  const outline = await makeFollowOutline(db, project, scanned, source, (done, of) =>
    report('Comparing the files with their source', done, 2 * of),
  );
  if (!sourcesOf(scanned).some(({ path, behind }) => path === source && behind > 0))
    return { outline, plan: null };
  const plan = await planFollow(
    planningOn(scanned, new ProjectFileSet(db, project, user), {
      progress: (doing, done, of) => report(doing, of + done, 2 * of),
    }),
    { outline, removeGone, overwrite: new Set(take) },
  );
  return { outline, plan };
}

/** The versions of a source that were taken, if they were ever here: they tell what was changed since. */
async function takenVersions(
  db: Database,
  path: string,
  { assembly, components }: Ties,
): Promise<Map<string, TakenVersion>> {
  const hashes = new Set([assembly?.link.source?.sha256, ...components.map(({ memory }) => memory.sha256)]);
  const present: { sha256: string }[] = await db('blobs')
    .whereIn(
      'sha256',
      [...hashes].filter((hash) => typeof hash === 'string'),
    )
    .select('sha256');
  const versions = new Map<string, TakenVersion>();
  for (const { sha256 } of present) {
    const { products } = await scanStored(db, path, sha256);
    const measured = (await measuredBodies(db, sha256)) ?? undefined;
    versions.set(sha256, { measured, bodies: products.flatMap(({ bodies }) => bodies) });
  }
  return versions;
}
