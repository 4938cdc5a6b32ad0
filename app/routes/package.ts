import { Readable } from 'node:stream';
import { data } from 'react-router';
import { HandOffError, HandOffOptions, planHandOff } from '#core/handoff/plan';
import { writePackage } from '#core/handoff/write-package';
import { baseName, stemOf } from '#core/links/paths';
import { requireProject } from '#server/auth/guard';
import { ProjectFileSet } from '#server/projects/project-files';
import { loadProject } from '#server/projects/project-scan';
import { writeLog } from '#server/projects/projects';
import type { Route } from './+types/package';

/** The package as a download. The choices stand in the address, as on the page. */
export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, user, project } = await requireProject(request, params.projectId, 'viewer');
  const search = new URL(request.url).searchParams;
  const options = HandOffOptions.safeParse({
    root: search.get('root') ?? '',
    flatten: search.has('flatten'),
    prefix: search.get('prefix') ?? '',
    suffix: search.get('suffix') ?? '',
    allowBroken: search.has('allowBroken'),
  });
  if (!options.success)
    throw data('The choices for the package are not usable. Go back and set them again.', { status: 400 });
  try {
    const plan = planHandOff(await loadProject(db, project.id), options.data);
    if (plan.broken.length > 0 && !options.data.allowBroken)
      throw data(`${plan.broken.length} links are broken. Repair them first, or say on the page to go on.`, {
        status: 409,
      });
    const { zip } = await writePackage(new ProjectFileSet(db, project.id), plan, {
      now: new Date(),
      signal: request.signal,
    });
    await writeLog(
      db,
      project.id,
      user.id,
      'package',
      `Packaged ${baseName(plan.root)} with ${plan.files.length} files`,
    );
    return new Response(Readable.toWeb(zip) as ReadableStream, {
      headers: {
        'Content-Type': 'application/zip',
        'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(`${stemOf(plan.rootInside)}.zip`)}`,
        'Cache-Control': 'no-store',
      },
    });
  } catch (error) {
    if (error instanceof HandOffError) throw data(error.message, { status: 409 });
    throw error;
  }
}
