import { data } from 'react-router';
import { z } from 'zod';
import { ConflictError } from '#core/change/change-set';
import { planCutTie, planFollow } from '#core/follow/plan';
import { Part21Error } from '#core/part21/errors';
import { SplitError } from '#core/split/source-part';
import { requireProject } from '#server/auth/guard';
import { shapesOf } from '#server/jobs/shapes';
import { makeFollowOutline, sourcesOf } from '#server/projects/follow';
import { ProjectFileSet } from '#server/projects/project-files';
import { loadProject } from '#server/projects/project-scan';
import { followScene } from '#server/views/follow-view';
import { readPaths } from '../screens/sources/paths-in-address';
import { SourcesScreen } from '../screens/sources/SourcesScreen';
import { revalidateOnNewData } from '../ui/useView';
import type { Route } from './+types/sources';

export const meta = () => [{ title: 'Sources · Stone Tray' }];

const now = () => new Date().toISOString().slice(0, 19);

export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, project } = await requireProject(request, params.projectId, 'viewer');
  const search = new URL(request.url).searchParams;
  const scanned = await loadProject(db, project.id);
  const sources = sourcesOf(scanned);
  const source = sources.find(({ path }) => path === search.get('source')) ?? sources[0];
  const nothing = { sources, source: source?.path ?? null, lines: [], scene: null, plan: null, error: null };
  if (!source) return nothing;
  try {
    const outline = await makeFollowOutline(db, project.id, scanned, source.path);
    if (!outline) return { ...nothing, error: 'The shapes of this source are still being prepared.' };
    const scene = followScene(scanned, await shapesOf(db, scanned), project.id, outline);
    const shown = { ...nothing, lines: outline.lines, scene };
    if (source.behind === 0) return shown;
    const files = new ProjectFileSet(db, project.id);
    const plan = await planFollow(
      scanned,
      files,
      outline,
      { removeGone: search.get('gone') !== 'keep', overwrite: readPaths(search.get('take')) },
      now(),
    );
    return {
      ...shown,
      plan: {
        summary: plan.summary,
        warnings: plan.warnings,
        created: plan.changes.filter(({ base }) => base === null).length,
        renewed: plan.changes.filter(({ base }) => base !== null).length,
        base: plan.changes.flatMap(({ path, base }) => (base === null ? [] : [{ path, base }])),
      },
    };
  } catch (error) {
    if (error instanceof SplitError || error instanceof Part21Error)
      return { ...nothing, error: error.message };
    throw error;
  }
}

const FollowForm = z.discriminatedUnion('intent', [
  z.object({
    intent: z.literal('follow'),
    source: z.string(),
    gone: z.enum(['remove', 'keep']),
    /** Files that are taken from the source although they have changes of their own. */
    take: z.string(),
    base: z.string(),
  }),
  /** `file` is empty for all of them. */
  z.object({ intent: z.literal('cut'), source: z.string(), file: z.string() }),
]);
const Base = z.array(z.object({ path: z.string(), base: z.string() }));

export async function action({ request, params }: Route.ActionArgs) {
  const { db, user, project } = await requireProject(request, params.projectId, 'editor');
  const form = FollowForm.safeParse(Object.fromEntries(await request.formData()));
  if (!form.success) return data({ error: 'The form was not complete. Reload the page.' }, { status: 400 });
  try {
    const scanned = await loadProject(db, project.id);
    const { source } = form.data;
    if (!scanned.files.has(source)) throw new SplitError(`There is no file ${source} any more.`);
    const files = new ProjectFileSet(db, project.id, user.id);
    if (form.data.intent === 'cut') {
      const { file } = form.data;
      const plan = await planCutTie(scanned, files, source, file === '' ? null : [file]);
      return { applied: await files.applyAs(plan), summary: plan.summary };
    }
    const { gone, base, take } = form.data;
    const outline = await makeFollowOutline(db, project.id, scanned, source);
    if (!outline) throw new SplitError('The shapes of this source are still being prepared.');
    const plan = await planFollow(
      scanned,
      files,
      outline,
      { removeGone: gone === 'remove', overwrite: readPaths(take) },
      now(),
    );
    // What the person saw is what is applied.
    const seen = new Map(Base.parse(JSON.parse(base)).map(({ path, base: hash }) => [path, hash]));
    for (const change of plan.changes)
      if (change.action === 'write' && change.base !== null)
        change.base = seen.get(change.path) ?? change.base;
    return { applied: await files.applyAs(plan), summary: plan.summary };
  } catch (error) {
    if (error instanceof ConflictError || error instanceof SplitError)
      return data({ error: error.message }, { status: 409 });
    throw error;
  }
}

export const shouldRevalidate = revalidateOnNewData;

export default function Sources({ loaderData }: Route.ComponentProps) {
  return <SourcesScreen {...loaderData} />;
}
