import { baseName, stemOf } from '#core/files/links/paths';
import type { Planned } from '#core/planned';
import type { PlanContext } from '#core/planning';
import type { PackageChoices } from './choices';
import { type HandOffPlan, planHandOff } from './plan';
import { writePackage } from './write-package';

/** Plans a package of the file that the choices name. */
export async function planPackage(
  context: PlanContext,
  { file, ...options }: PackageChoices,
): Promise<Planned<HandOffPlan>> {
  const { project, draft, now, progress, signal } = context;
  const plan = planHandOff(project, { ...options, root: file });
  for (const { from } of plan.files) draft.restOn(from);
  const change = await draft.finish(`Packaged ${baseName(file)} with ${plan.files.length} files`);
  if (plan.broken.length > 0 && !options.allowBroken) {
    const count = plan.broken.length;
    const hindrance = `${count === 1 ? '1 link is' : `${count} links are`} broken. Repair them first, or say to go on.`;
    return { change, preview: plan, hindrance };
  }
  const write = async () => {
    const { zip, list } = await writePackage(draft, plan, {
      now,
      signal,
      // Whoever cancels is heard by the signal.
      onFile: (done, total, path) => void progress(`Packing ${baseName(path)}`, done, total).catch(() => {}),
    });
    return { stream: zip, contents: list };
  };
  return { change, preview: plan, product: { name: `${stemOf(plan.rootInside)}.zip`, of: plan.root, write } };
}
