import { answerInProject } from '#server/auth/guard';
import { inTurns } from '#server/in-turns';
import { listProjects } from '#server/projects/projects';
import { loadProject } from '#server/projects/scan/project-scan';
import { type FoundEverywhere, findInProjects, findLinksSteps, readWanted } from '#server/views/find/find';
import type { Route } from './+types/find';

/** Letters that are read of what is looked for. */
const LONGEST = 200;

/** Files, parts, components and links of a project by what stands in them; files and parts of the person's other projects, and those by their names. */
export const loader = answerInProject(
  'viewer',
  async ({ db, project, user }, { request }: Route.LoaderArgs): Promise<FoundEverywhere> => {
    const typed = (new URL(request.url).searchParams.get('q') ?? '').slice(0, LONGEST);
    const all = await listProjects(db, user.id);
    const others = all.filter(({ id }) => id !== project.id);
    const { words } = readWanted(typed);
    const [found, elsewhere, links] = await Promise.all([
      findInProjects(db, [project], typed, project.id),
      findInProjects(db, others, typed, project.id),
      loadProject(db, project.id).then((scanned) => inTurns(findLinksSteps(scanned, typed))),
    ]);
    return {
      found: [...found, ...links],
      others: elsewhere.filter(({ what }) => what !== 'component'),
      projects:
        words.length === 0
          ? []
          : others
              .filter(({ name }) => words.every((word) => name.toLowerCase().includes(word)))
              .map(({ id, name, description }) => ({ id, name, description })),
    };
  },
);
