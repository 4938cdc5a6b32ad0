import { answerInProject } from '#server/auth/guard';
import { inTurns } from '#server/in-turns';
import { loadProject } from '#server/projects/scan/project-scan';
import { type Found, findSteps } from '#server/views/files/find';
import type { Route } from './+types/find';

/** Letters that are read of what is looked for. */
const LONGEST = 200;

/** Files and components of a project, by name. */
export const loader = answerInProject(
  'viewer',
  async ({ db, project }, { request }: Route.LoaderArgs): Promise<Found[]> => {
    const typed = (new URL(request.url).searchParams.get('q') ?? '').slice(0, LONGEST);
    return inTurns(findSteps(await loadProject(db, project.id), typed));
  },
);
