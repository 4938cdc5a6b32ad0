import type { ShouldRevalidateFunctionArgs } from 'react-router';
import { registryEntries } from '#core/operations';
import { inProject } from '#server/auth/guard';
import { shapeStatesOf } from '#server/jobs/shapes';
import { ownerOf } from '#server/jobs/tasks';
import { noteOpened } from '#server/projects/people/stars';
import { loadProject } from '#server/projects/scan/project-scan';
import { shapeProgress, stateCounts } from '#server/views/files/files-view';
import { ProjectFrame } from '../screens/project/ProjectFrame';
import type { Route } from './+types/project';

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.project.name ?? 'Project'} · Stone Tray` },
];

export const loader = inProject('viewer', async (access) => {
  const { db, user, project, role } = access;
  await noteOpened(db, ownerOf(access));
  const scanned = await loadProject(db, project.id);
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
    shapes: shapeProgress(scanned, await shapeStatesOf(db, scanned)),
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
