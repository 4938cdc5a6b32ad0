import { Refusal } from '#core/refusal';
import { requireProject } from '#server/auth/guard';
import { checkSplit, SplitCheckRequest } from '#server/projects/split-check';
import type { Route } from './+types/split-check';

/** The result of a split against its source, as the kernel measures both; null while it has not. Changes nothing. */
export async function action({ request, params }: Route.ActionArgs) {
  const { db, project } = await requireProject(request, params.projectId, 'viewer');
  const asked = SplitCheckRequest.safeParse(await request.json().catch(() => null));
  if (!asked.success)
    return Response.json({ error: 'What shall be compared cannot be read.' }, { status: 400 });
  try {
    return Response.json({ check: await checkSplit(db, project.id, asked.data) });
  } catch (error) {
    if (error instanceof Refusal) return Response.json({ error: error.message }, { status: 409 });
    throw error;
  }
}
