import type { ShouldRevalidateFunctionArgs } from 'react-router';
import { operationEntries } from '#core/operations';
import { requireProject } from '#server/auth/guard';
import { requestShapes, shapesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/project-scan';
import { shapeProgress, stateCounts } from '#server/views/files-view';
import { ProjectFrame } from '../screens/project/ProjectFrame';
import type { Route } from './+types/project';

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.project.name ?? 'Project'} · Stone Tray` },
];

export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, user, project, role } = await requireProject(request, params.projectId, 'viewer');
  const scanned = await loadProject(db, project.id);
  // New files, and all of them after the kernel was renewed, get their shapes when somebody looks.
  await requestShapes(db, scanned);
  return {
    user: { name: user.name },
    role,
    project: { id: project.id, name: project.name, revision: project.revision },
    links: stateCounts(scanned.links),
    shapes: shapeProgress(await shapesOf(db, scanned)),
    operations: operationEntries(),
  };
}

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
