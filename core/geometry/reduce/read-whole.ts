import { type ReachOfWhole, reachOf } from '#core/geometry/reach/classes';
import { readWhole, type Whole } from '#core/geometry/whole/whole';
import type { PlanContext } from '#core/planning';
import { placedBelow } from '#core/project/scan/project';

/** The whole below a file, with its meshes. Remembered until something in it changes. */
export function wholeOf(context: PlanContext, root: string): Promise<Whole> {
  for (const path of placedBelow(context.project, [root]))
    if (context.project.files.has(path)) context.draft.restOn(path);
  return context.remember(`whole ${versionsBelow(context, root)}`, () => readWhole(context, root), true);
}

/** Names the contents of all that a file places, as they are now. */
export function versionsBelow({ project }: PlanContext, root: string): string {
  return placedBelow(project, [root])
    .map((path) => `${path} ${project.files.get(path)?.sha256}`)
    .join(' ');
}

/** The reach of everything in a whole. Remembered by gap. */
export function reachOfWhole(context: PlanContext, whole: Whole, gap: number): Promise<ReachOfWhole> {
  return context.remember(`reach ${gap} ${versionsBelow(context, whole.root)}`, () =>
    reachOf(whole, gap, context.progress),
  );
}
