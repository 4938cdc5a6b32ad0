import { z } from 'zod';
import type { FollowLine } from '#core/follow/outline';
import { shapesOf } from '#server/jobs/shapes';
import { taskKind } from '#server/jobs/tasks';
import { FollowRequest, planFollowing } from '#server/projects/follow';
import { loadProject } from '#server/projects/project-scan';
import { followScene } from '#server/views/follow-view';
import type { SceneData } from '#server/views/structure-view';

/** What became of every body of a source, on the stage and in the table, and what following it would change. */
export interface Comparison {
  lines: FollowLine[];
  scene: SceneData;
  /** Null when every file is at the newest version. */
  plan: {
    summary: string;
    warnings: string[];
    created: number;
    renewed: number;
    /** Files that will be written over, with the versions of now. */
    base: { path: string; base: string }[];
  } | null;
}

/** What a comparison is asked for with; another revision of the project is another comparison. */
const ComparisonRequest = FollowRequest.extend({ revision: z.number() });

/** Compares a source with the files that came out of it. It changes nothing. */
export const COMPARISON = taskKind<z.infer<typeof ComparisonRequest>, Comparison>({
  role: 'viewer',
  request: ComparisonRequest,
  async run(context, request) {
    const { db, project } = context;
    const scanned = await loadProject(db, project);
    const { outline, plan } = await planFollowing(context, scanned, request);
    await context.finish({
      lines: outline.lines,
      scene: followScene(scanned, await shapesOf(db, scanned), project, outline),
      plan: plan
        ? {
            summary: plan.summary,
            warnings: plan.warnings,
            created: plan.changes.filter(({ base }) => base === null).length,
            renewed: plan.changes.filter(({ base }) => base !== null).length,
            base: plan.changes.flatMap(({ path, base }) => (base === null ? [] : [{ path, base }])),
          }
        : null,
    });
  },
});
