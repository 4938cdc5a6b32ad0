import { linkedParts } from '#core/jobs/takein/parts';
import { topProductsOf } from '#core/project/scan/content';
import type { Project } from '#core/project/scan/project';
import type { Steps } from '#core/steps';
import type { ShapeState } from '#server/jobs/shapes';
import { type AssemblyView, assemblyViewSteps } from './assembly-view';

/** A file that an assembly places as a component. */
export interface LinkedComponent {
  path: string;
  id: string;
  name: string;
  placings: number;
  bytes: number;
  /** Files that it places itself, at any depth. */
  below: number;
  /** Why it has to stay a file; null where it can be taken in. */
  why: string | null;
}

/** What can be taken into an assembly file, before anything is planned. */
export interface TakeInView extends AssemblyView {
  components: LinkedComponent[];
}

/** @param wanted the file that is asked for */
export function* takeInViewSteps(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  wanted: string | null,
): Steps<TakeInView> {
  const view = yield* assemblyViewSteps(project, shapes, projectId, {
    wanted,
    hasComponents: ({ path }) =>
      (project.uses.get(path) ?? []).some(({ kind, to }) => kind === 'component' && to !== null),
    keyOf: (row, file) => (row.link?.holder === file ? row.file : ''),
  });
  const components: LinkedComponent[] = [];
  if (view.file !== null) {
    const { parts, staying } = linkedParts(project, view.file, { isDeep: false });
    for (const { path, placings } of parts) {
      components.push({ ...about(project, path), placings, why: null });
      yield;
    }
    for (const { path, placings, why } of staying)
      components.push({ ...about(project, path), placings, why });
  }
  return { ...view, components };
}

function about(project: Project, path: string): Omit<LinkedComponent, 'why' | 'placings'> {
  const { scan, bytes } = project.files.get(path)!;
  const top = topProductsOf(scan)[0];
  const below = linkedParts(project, path, { isDeep: true }).parts.length;
  return { path, id: top?.id ?? '', name: top?.name ?? path, bytes, below };
}
