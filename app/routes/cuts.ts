import { data } from 'react-router';
import { z } from 'zod';
import { CutChoices } from '#core/cut/plan';
import { Part21Error } from '#core/part21/errors';
import { SplitError } from '#core/split/source-part';
import { requireProject } from '#server/auth/guard';
import { getBlob } from '#server/projects/blobs';
import { CutRequest, cancelCut, cutState, planStoredCut, startCut } from '#server/projects/cuts';
import { changedFiles } from '#server/views/cut-view';
import type { Route } from './+types/cuts';

/** The state of a cut as JSON; with `?picture` its pieces as binary glTF. */
export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, user, project } = await requireProject(request, params.projectId, 'viewer');
  const search = new URL(request.url).searchParams;
  const id = z.uuid().safeParse(search.get('cut'));
  const state = id.success ? await cutState(db, project.id, user.id, id.data) : undefined;
  if (!state) throw data('There is no such cut. Cuts are kept for a day; cut again.', { status: 404 });
  const { gltf, ...shown } = state;
  if (!search.has('picture')) return Response.json(shown, { headers: { 'Cache-Control': 'no-store' } });
  if (gltf === null) throw data('This cut is not made yet.', { status: 409 });
  return new Response(new Uint8Array(await getBlob(db, gltf)), {
    headers: {
      'Content-Type': 'model/gltf-binary',
      'Cache-Control': 'private, max-age=86400, immutable',
    },
  });
}

const Request = z.discriminatedUnion('intent', [
  z.object({ intent: z.literal('start'), cut: CutRequest }),
  z.object({ intent: z.literal('cancel'), id: z.uuid() }),
  z.object({ intent: z.literal('plan'), id: z.uuid(), choices: CutChoices }),
]);

/** Tries a cut, stops one, or tells what keeping its pieces would change. Nothing in the project changes. */
export async function action({ request, params }: Route.ActionArgs) {
  const { db, user, project } = await requireProject(request, params.projectId, 'editor');
  const asked = Request.safeParse(await request.json().catch(() => null));
  if (!asked.success)
    return Response.json(
      { error: 'The cut cannot be read. Reload the page and draw it again.' },
      { status: 400 },
    );
  try {
    if (asked.data.intent === 'start')
      return Response.json({ id: await startCut(db, project.id, user.id, asked.data.cut) });
    if (asked.data.intent === 'cancel') {
      await cancelCut(db, project.id, user.id, asked.data.id);
      return Response.json({ id: null });
    }
    const { plan } = await planStoredCut(db, project.id, user.id, asked.data.id, asked.data.choices);
    return Response.json({ plan: { files: changedFiles(plan), warnings: plan.warnings } });
  } catch (error) {
    if (error instanceof SplitError || error instanceof Part21Error)
      return Response.json({ error: error.message }, { status: 409 });
    throw error;
  }
}
