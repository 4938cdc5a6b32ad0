import { data } from 'react-router';
import { requireProject } from '#server/auth/guard';
import { loadProject } from '#server/projects/project-scan';
import { versionsOf } from '#server/projects/projects';
import type { Route } from './+types/file-facts';

/** What a file uses, where it is used, and its versions. */
export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, project } = await requireProject(request, params.projectId, 'viewer');
  const path = new URL(request.url).searchParams.get('path') ?? '';
  const scanned = await loadProject(db, project.id);
  if (!scanned.files.has(path)) throw data(`There is no file ${path}.`, { status: 404 });
  const plain = ({ from, written, to, state, reason, occurrences }: (typeof scanned.links)[number]) => ({
    from,
    written,
    to,
    state,
    reason,
    occurrences,
  });
  return {
    path,
    uses: (scanned.uses.get(path) ?? []).map(plain),
    usedBy: (scanned.usedBy.get(path) ?? []).map(plain),
    sources: (scanned.uses.get(path) ?? []).flatMap(({ source, to, state }) =>
      source && to !== null
        ? [
            {
              source: to,
              isBehind: state === 'behind',
              bodies: source.bodies.map(({ id, name }) => name || `body #${id}`),
            },
          ]
        : [],
    ),
    cameOut: (scanned.usedBy.get(path) ?? []).filter(({ source }) => source).length,
    versions: await versionsOf(db, project.id, path),
  };
}
