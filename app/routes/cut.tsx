import { data, useSearchParams } from 'react-router';
import { z } from 'zod';
import { ConflictError } from '#core/change/change-set';
import { CutChoices } from '#core/cut/plan';
import { Part21Error } from '#core/part21/errors';
import { SplitError } from '#core/split/source-part';
import { requireProject } from '#server/auth/guard';
import { measuredBodies, shapesOf } from '#server/jobs/shapes';
import { planStoredCut } from '#server/projects/cuts';
import { loadProject } from '#server/projects/project-scan';
import { cutView } from '#server/views/cut-view';
import { CutScreen } from '../screens/cut/CutScreen';
import { NothingToCut } from '../screens/cut/NothingToCut';
import { revalidateOnNewData } from '../ui/useView';
import type { Route } from './+types/cut';

export const meta = () => [{ title: 'Cut a body · Stone Tray' }];

export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, project } = await requireProject(request, params.projectId, 'viewer');
  const search = new URL(request.url).searchParams;
  const scanned = await loadProject(db, project.id);
  const file = search.get('file');
  const sha256 = file === null ? undefined : scanned.files.get(file)?.sha256;
  const measured = sha256 === undefined ? undefined : await measuredBodies(db, sha256);
  const body = z.coerce.number().int().safeParse(search.get('body'));
  return {
    view: cutView(
      scanned,
      await shapesOf(db, scanned),
      measured,
      project.id,
      file,
      body.success ? body.data : null,
    ),
  };
}

const Request = z.object({ cut: z.uuid(), choices: CutChoices });

export async function action({ request, params }: Route.ActionArgs) {
  const { db, user, project } = await requireProject(request, params.projectId, 'editor');
  const asked = Request.safeParse(await request.json().catch(() => null));
  if (!asked.success)
    return data({ error: 'The cut cannot be read. Reload the page and draw it again.' }, { status: 400 });
  try {
    const { plan, files } = await planStoredCut(db, project.id, user.id, asked.data.cut, asked.data.choices);
    return { applied: await files.applyAs(plan), summary: plan.summary };
  } catch (error) {
    if (error instanceof SplitError || error instanceof ConflictError || error instanceof Part21Error)
      return data({ error: error.message }, { status: 409 });
    throw error;
  }
}

export const shouldRevalidate = revalidateOnNewData;

export default function Cut({ loaderData: { view } }: Route.ComponentProps) {
  const [search] = useSearchParams();
  // By what was asked for: a body that was cut is no longer there, and the page still tells of it.
  return view ? (
    <CutScreen key={`${search.get('file')} ${search.get('body')}`} {...view} />
  ) : (
    <NothingToCut />
  );
}
