import { data } from 'react-router';
import { z } from 'zod';
import { CutChoices } from '#core/cut/plan';
import { Refusal } from '#core/refusal';
import { requireProject } from '#server/auth/guard';
import { getBlob } from '#server/db/blobs';
import { ownerOf, taskState } from '#server/jobs/tasks';
import { type CutResult, planStoredCut } from '#server/projects/cuts';
import { changedFiles } from '#server/views/cut-view';
import type { Route } from './+types/cuts';

/** The pieces of a cut as binary glTF. */
export async function loader({ request, params }: Route.LoaderArgs) {
  const access = await requireProject(request, params.projectId, 'viewer');
  const { db } = access;
  const id = new URL(request.url).searchParams.get('cut');
  const task = await taskState<CutResult>(db, ownerOf(access), id, 'cut');
  if (!task) throw data('There is no such cut. Cuts are kept for a day; cut again.', { status: 404 });
  if (!task.result) throw data('This cut is not made yet.', { status: 409 });
  return new Response(new Uint8Array(await getBlob(db, task.result.gltf)), {
    headers: {
      'Content-Type': 'model/gltf-binary',
      'Cache-Control': 'private, max-age=86400, immutable',
    },
  });
}

const Request = z.object({ id: z.uuid(), choices: CutChoices });

/** What keeping the pieces of a cut would change. Nothing in the project changes. */
export async function action({ request, params }: Route.ActionArgs) {
  const access = await requireProject(request, params.projectId, 'editor');
  const asked = Request.safeParse(await request.json().catch(() => null));
  if (!asked.success)
    return Response.json(
      { error: 'The cut cannot be read. Reload the page and draw it again.' },
      { status: 400 },
    );
  try {
    const { plan } = await planStoredCut(access.db, ownerOf(access), asked.data.id, asked.data.choices);
    return Response.json({ plan: { files: changedFiles(plan), warnings: plan.warnings } });
  } catch (error) {
    if (error instanceof Refusal) return Response.json({ error: error.message }, { status: 409 });
    throw error;
  }
}
