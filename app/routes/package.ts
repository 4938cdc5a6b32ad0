import { data } from 'react-router';
import { z } from 'zod';
import { HandOffOptions } from '#core/handoff/plan';
import { requireProject } from '#server/auth/guard';
import { streamBlob } from '#server/projects/blobs';
import { cancelPackage, packageState, startPackage } from '#server/projects/packages';
import type { Route } from './+types/package';

/** The package as a download, once it is written; its state as JSON with `?state`. */
export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, user, project } = await requireProject(request, params.projectId, 'viewer');
  const search = new URL(request.url).searchParams;
  const id = z.uuid().safeParse(search.get('package'));
  const state = id.success ? await packageState(db, project.id, user.id, id.data) : undefined;
  if (!state)
    throw data('There is no such package. Packages are kept for a day; write it again.', { status: 404 });
  const { sha256, ...shown } = state;
  if (search.has('state')) return Response.json(shown);
  if (sha256 === null) throw data('This package is not written yet.', { status: 409 });
  const { stream, bytes } = await streamBlob(db, sha256);
  return new Response(stream, {
    headers: {
      'Content-Type': 'application/zip',
      'Content-Length': String(bytes),
      'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(shown.name)}`,
      'Cache-Control': 'no-store',
    },
  });
}

const Request = z.discriminatedUnion('intent', [
  z.object({ intent: z.literal('start'), options: HandOffOptions }),
  z.object({ intent: z.literal('cancel'), package: z.uuid() }),
]);

/** Starts or cancels the writing of a package. It changes no file of the project: viewers may do it too. */
export async function action({ request, params }: Route.ActionArgs) {
  const { db, user, project } = await requireProject(request, params.projectId, 'viewer');
  const asked = Request.safeParse(await request.json().catch(() => null));
  if (!asked.success)
    return data({ error: 'The choices for the package are not usable. Set them again.' }, { status: 400 });
  if (asked.data.intent === 'cancel') {
    await cancelPackage(db, project.id, user.id, asked.data.package);
    return { package: null };
  }
  return { package: await startPackage(db, project.id, user.id, asked.data.options) };
}
