import { data } from 'react-router';
import { z } from 'zod';
import { ConflictError } from '#core/change/change-set';
import { Part21Error } from '#core/part21/errors';
import { SplitChoices } from '#core/split/choices';
import { openSource, outlineSplit, planSplit } from '#core/split/plan';
import { SplitError } from '#core/split/source-part';
import { requireProject } from '#server/auth/guard';
import { measuredBodies, shapesOf } from '#server/jobs/shapes';
import { ProjectFileSet } from '#server/projects/project-files';
import { loadProject } from '#server/projects/project-scan';
import { outlineView, splitView } from '#server/views/split-view';
import { SplitScreen } from '../screens/split/SplitScreen';
import { revalidateOnNewData } from '../ui/useView';
import type { Route } from './+types/split';

export const meta = () => [{ title: 'Split · Stone Tray' }];

export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, project } = await requireProject(request, params.projectId, 'viewer');
  const scanned = await loadProject(db, project.id);
  return splitView(
    scanned,
    await shapesOf(db, scanned),
    project.id,
    new URL(request.url).searchParams.get('file'),
  );
}

const SplitRequest = z.object({
  intent: z.enum(['outline', 'apply']),
  file: z.string(),
  /** The version of the source that the page shows. */
  sha256: z.string(),
  choices: SplitChoices,
  base: z.array(z.object({ path: z.string(), base: z.string() })).default([]),
});

export async function action({ request, params }: Route.ActionArgs) {
  // Looking at a plan changes nothing: viewers may do it too.
  const { db, user, project, role } = await requireProject(request, params.projectId, 'viewer');
  const parsed = SplitRequest.safeParse(await request.json().catch(() => null));
  if (!parsed.success)
    return data({ error: 'The choices cannot be read. Reload the page and choose again.' }, { status: 400 });
  const { intent, file, sha256, choices, base } = parsed.data;
  if (intent === 'apply' && role === 'viewer') await requireProject(request, params.projectId, 'editor');
  try {
    const scanned = await loadProject(db, project.id);
    if (scanned.files.get(file)?.sha256 !== sha256)
      throw new SplitError(
        `${file} has changed since this page was loaded. Reload it to split the new version.`,
      );
    const files = new ProjectFileSet(db, project.id, user.id);
    const source = await openSource(files, file);
    const measured = await measuredBodies(db, sha256);
    if (!measured)
      throw new SplitError('The shapes of this part are still being prepared. Wait until they are there.');
    const outline = outlineSplit(scanned, source, choices, measured);
    if (intent === 'outline') return { outline: outlineView(scanned, outline, choices) };

    const plan = await planSplit(scanned, files, outline, choices, new Date().toISOString().slice(0, 19));
    // What the person saw is what is applied.
    const seen = new Map(base.map(({ path, base: hash }) => [path, hash]));
    for (const change of plan.changes)
      if (change.action === 'write' && change.base !== null)
        change.base = seen.get(change.path) ?? change.base;
    return { applied: await files.applyAs(plan), summary: plan.summary, assembly: outline.assembly };
  } catch (error) {
    if (error instanceof SplitError || error instanceof ConflictError || error instanceof Part21Error)
      return data({ error: error.message }, { status: 409 });
    throw error;
  }
}

export const shouldRevalidate = revalidateOnNewData;

export default function Split({ loaderData }: Route.ComponentProps) {
  return <SplitScreen key={loaderData.path} {...loaderData} />;
}
