import { data } from 'react-router';
import { LINK_KINDS } from '#core/formats/kinds';
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
  const plain = ({
    from,
    kind,
    written,
    to,
    state,
    reason,
    occurrences,
  }: (typeof scanned.links)[number]) => ({
    from,
    kind,
    written,
    to,
    state,
    reason,
    occurrences,
  });
  const isAbout = ({ kind }: (typeof scanned.links)[number]) => LINK_KINDS[kind].isAbout;
  const uses = scanned.uses.get(path) ?? [];
  const usedBy = scanned.usedBy.get(path) ?? [];
  return {
    path,
    uses: uses.filter((link) => !isAbout(link)).map(plain),
    usedBy: usedBy.filter((link) => !isAbout(link)).map(plain),
    /** What a drawing shows, and the drawings that show a model. */
    shows: uses.filter(isAbout).map(plain),
    drawings: usedBy.filter(isAbout).map(({ from }) => from),
    sources: uses.flatMap(({ source, to, state }) =>
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
    cameOut: usedBy.filter(({ source }) => source).length,
    versions: await versionsOf(db, project.id, path),
  };
}
