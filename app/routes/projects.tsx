import { data, redirect } from 'react-router';
import { z } from 'zod';
import { rootsOf } from '#core/scan/project';
import { forSignedIn } from '#server/auth/guard';
import { portraitRoots, portraitState, portraitsOf } from '#server/jobs/portraits';
import { shapeStatesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/project-scan';
import { createProject, listProjects } from '#server/projects/projects';
import { stateCounts } from '#server/views/files-view';
import { ProjectsScreen } from '../screens/projects/ProjectsScreen';
import { addressIn } from '../ui/addresses';
import type { Route } from './+types/projects';

export const meta = () => [{ title: 'Projects · Stone Tray' }];

export const loader = forSignedIn(async ({ db, user }) => {
  const projects = await Promise.all(
    (await listProjects(db, user.id)).map(async (card) => {
      const project = await loadProject(db, card.id);
      const shows = portraitState(card.revision, await shapeStatesOf(db, project));
      const there = await portraitsOf(db, card.id);
      return {
        ...card,
        portraits: portraitRoots(project).flatMap((path) => {
          const drawn = there.get(path);
          return drawn?.isSeen ? { path, shows: drawn.shows } : [];
        }),
        arePortraitsNew: portraitRoots(project).every((path) => there.get(path)?.shows === shows),
        files: project.files.size,
        links: stateCounts(project.links),
        roots: rootsOf(project).length,
      };
    }),
  );
  return { user, projects };
});

const NewProject = z.object({
  name: z
    .string()
    .trim()
    .min(1, 'Give the project a name.')
    .max(120, 'The name is longer than 120 characters.'),
});

export const action = forSignedIn(async ({ db, user }, { request }: Route.ActionArgs) => {
  const form = NewProject.safeParse(Object.fromEntries(await request.formData()));
  if (!form.success) return data({ error: form.error.issues[0]!.message }, { status: 400 });
  return redirect(addressIn(await createProject(db, user.id, form.data.name), 'files'));
});

export default function Projects({ loaderData, actionData }: Route.ComponentProps) {
  return <ProjectsScreen {...loaderData} error={actionData?.error} />;
}
