import { Refusal } from '#core/refusal';
import { requireProject } from '#server/auth/guard';
import { makeOutline, SplitRequest, UNREADABLE_CHOICES } from '#server/projects/split';
import { outlineView } from '#server/views/split-view';
import type { Route } from './+types/split-outline';

/** What a split would make. It is asked for by POST, since names may be many, and changes nothing: viewers may ask. */
export async function action({ request, params }: Route.ActionArgs) {
  const { db, user, project } = await requireProject(request, params.projectId, 'viewer');
  const asked = SplitRequest.safeParse(await request.json().catch(() => null));
  if (!asked.success) return Response.json({ error: UNREADABLE_CHOICES }, { status: 400 });
  try {
    const { scanned, outline } = await makeOutline(db, project.id, user.id, asked.data);
    return Response.json({ outline: outlineView(scanned, outline, asked.data.choices) });
  } catch (error) {
    if (error instanceof Refusal) return Response.json({ error: error.message }, { status: 409 });
    throw error;
  }
}
