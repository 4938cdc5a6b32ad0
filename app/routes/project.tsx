import type { ShouldRevalidateFunctionArgs } from 'react-router';
import { stateCounts } from '#core/files/links/resolve';
import { registryEntries } from '#core/operations';
import { inProject } from '#server/auth/guard';
import { arePortraitsNew, portraitAssemblies, portraitsOf } from '#server/jobs/portraits';
import { shapeStatesOf } from '#server/jobs/shapes';
import { ownerOf } from '#server/jobs/tasks';
import { noteOpened } from '#server/projects/people/stars';
import { loadProject } from '#server/projects/scan/project-scan';
import { shapeProgress } from '#server/views/files/files-view';
import { ProjectFrame } from '../screens/project/ProjectFrame';
import type { Route } from './+types/project';

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.project.name ?? 'Project'} · Stone Tray` },
];

export const loader = inProject('viewer', async (access) => {
  const { db, user, project, role } = access;
  await noteOpened(db, ownerOf(access));
  const scanned = await loadProject(db, project.id);
  const shapes = await shapeStatesOf(db, scanned);
  const progress = shapeProgress(scanned, shapes);
  return {
    user: { name: user.name, email: user.email },
    role,
    project: {
      id: project.id,
      name: project.name,
      revision: project.revision,
      isArchived: project.isArchived,
    },
    links: stateCounts(scanned.links),
    shapes: progress,
    // While shapes come, pictures would be drawn again and again.
    arePicturesOld:
      progress.open + progress.unasked === 0 &&
      !arePortraitsNew(scanned, portraitAssemblies(scanned), shapes, await portraitsOf(db, project.id)),
    operations: registryEntries(),
  };
});

/** The frame says nothing that depends on the address of the view inside it. */
export const shouldRevalidate = (args: ShouldRevalidateFunctionArgs) => {
  const { currentParams, nextParams, formMethod, currentUrl, nextUrl, defaultShouldRevalidate } = args;
  const otherView =
    formMethod === undefined &&
    currentUrl.href !== nextUrl.href &&
    currentParams.projectId === nextParams.projectId;
  return otherView ? false : defaultShouldRevalidate;
};

export default function Project({ loaderData }: Route.ComponentProps) {
  return <ProjectFrame {...loaderData} />;
}
