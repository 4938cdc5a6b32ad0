import { data } from 'react-router';
import { ConflictError } from '#core/change/change-set';
import { Part21Error } from '#core/part21/errors';
import { bodiesIn } from '#core/split/groups';
import { planSplit } from '#core/split/plan';
import { SplitError } from '#core/split/source-part';
import { requireProject } from '#server/auth/guard';
import { shapesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/project-scan';
import { makeOutline, SplitRequest, UNREADABLE_CHOICES } from '#server/projects/split';
import { splitView } from '#server/views/split-view';
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

export async function action({ request, params }: Route.ActionArgs) {
  const { db, user, project } = await requireProject(request, params.projectId, 'editor');
  const asked = SplitRequest.safeParse(await request.json().catch(() => null));
  if (!asked.success) return data({ error: UNREADABLE_CHOICES }, { status: 400 });
  const { choices, base } = asked.data;
  try {
    const { scanned, files, outline } = await makeOutline(db, project.id, user.id, asked.data);
    const plan = await planSplit(scanned, files, outline, choices, new Date().toISOString().slice(0, 19));
    // What the person saw is what is applied.
    const seen = new Map(base.map(({ path, base: hash }) => [path, hash]));
    for (const change of plan.changes)
      if (change.action === 'write' && change.base !== null)
        change.base = seen.get(change.path) ?? change.base;
    return {
      applied: await files.applyAs(plan),
      summary: plan.summary,
      assembly: outline.assembly,
      check: {
        sha256: asked.data.sha256,
        assembly: outline.assembly,
        bodies: outline.components.flatMap(({ group }) => bodiesIn(group).map(({ id }) => id)),
      },
    };
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
