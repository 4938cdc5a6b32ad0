import { z } from 'zod';
import { baseName, stemOf } from '#core/files/links/paths';
import { operation, type Planned } from '#core/operation';
import { HandOffChoices, type HandOffPlan, planHandOff } from './plan';
import { writePackage } from './write-package';

export const PackageChoices = HandOffChoices.omit({ root: true }).extend({
  file: z.string().min(1).describe('the file that is handed over, with everything it needs'),
});
export type PackageChoices = z.infer<typeof PackageChoices>;

/** Packs a file with everything it needs. It changes no file of the project. */
export const PACKAGE = operation({
  name: 'package',
  title: 'Hand-off',
  purpose: 'Pack a file with everything it needs.',
  place: 'give',
  page: 'hand-off',
  role: 'viewer',
  accepts: { what: 'file', parameter: 'root', roles: ['assembly'] },
  choices: PackageChoices,
  cost: 'quick',
  async plan(context, { file, ...options }): Promise<Planned<HandOffPlan>> {
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
        onFile: (done, total, path) =>
          void progress(`Packing ${baseName(path)}`, done, total).catch(() => {}),
      });
      return { stream: zip, contents: list };
    };
    return { change, preview: plan, product: { name: `${stemOf(plan.rootInside)}.zip`, write } };
  },
});
