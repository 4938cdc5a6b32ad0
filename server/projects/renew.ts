import { z } from 'zod';
import { planningOn } from '#core/operation';
import { Refusal } from '#core/refusal';
import { filesToRenew, planRenew } from '#core/repair/renew';
import { taskKind } from '#server/jobs/tasks';
import { type AppliedChange, applyInTask, basedOn } from './apply-in-task';
import { ProjectFileSet } from './project-files';
import { loadProject } from './project-scan';

/** Writes links anew in the form that others follow, in the files that the page showed. */
export const RENEW = taskKind<{ base: { path: string; base: string }[] }, AppliedChange>({
  role: 'editor',
  request: z.object({ base: z.array(z.object({ path: z.string(), base: z.string() })).min(1) }),
  async run(context, { base }) {
    const { db, project, user, report } = context;
    const scanned = await loadProject(db, project);
    const seen = new Set(base.map(({ path }) => path));
    const old = filesToRenew(scanned).filter(({ path }) => seen.has(path));
    if (old.length === 0) throw new Refusal('These files are written as others follow them by now.');
    const files = new ProjectFileSet(db, project, user);
    const plan = await planRenew(planningOn(scanned, files, { progress: report }), old);
    await applyInTask(context, files, basedOn(plan, base), {});
  },
});
