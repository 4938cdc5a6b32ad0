import { brokenLinks, planRepair } from '#core/jobs/repair/plan';
import { rankCandidates } from '#core/jobs/repair/rank';
import { planningOn } from '#core/planning';
import type { ChangeableFileSet } from '#core/project/change/change-set';
import { scanFileSet } from '#core/project/scan/scan';

/** Repairs every broken link with its best candidate, as somebody does who knows the demo. */
export async function repairAll(files: ChangeableFileSet): Promise<void> {
  const project = await scanFileSet(files);
  const choices = brokenLinks(project).map((link) => {
    const [best] = rankCandidates(project, link);
    return { holder: link.holder, kind: link.kind, written: link.written, target: best!.path };
  });
  await files.apply(await planRepair(planningOn(project, files), choices));
}
