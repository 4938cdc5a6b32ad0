import type { ChangeableFileSet } from '#core/change/change-set';
import { planningOn } from '#core/operation';
import { brokenLinks, planRepair } from '#core/repair/plan';
import { rankCandidates } from '#core/repair/rank';
import { scanFileSet } from '#core/scan/scan';

/** Repairs every broken link with its best candidate, as somebody does who knows the demo. */
export async function repairAll(files: ChangeableFileSet): Promise<void> {
  const project = await scanFileSet(files);
  const choices = brokenLinks(project).map((link) => {
    const [best] = rankCandidates(project, link);
    return { holder: link.holder, kind: link.kind, written: link.written, target: best!.path };
  });
  await files.apply(await planRepair(planningOn(project, files), choices));
}
