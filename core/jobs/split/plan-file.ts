import { openPart } from '#core/geometry/bodies/open-part';
import type { SourcePart } from '#core/geometry/bodies/source-part';
import type { Planned } from '#core/planned';
import type { PlanContext } from '#core/planning';
import type { SplitChoices, SplitFileChoices } from './choices';
import { groupBodies, type SplitGroup } from './groups';
import { hindranceTo, outlineSplit, planSplit, type SplitOutline } from './plan';

/** Plans to split the file that the choices name. */
export async function planSplitOf(
  context: PlanContext,
  { file, ...choices }: SplitFileChoices,
): Promise<Planned<SplitOutline>> {
  const { project, draft } = context;
  const { part: source, sha256 } = await openPart(context, file, choices.product);
  const measured = await context.measured(file, choices.product);
  const groups = await groupsOf(context, sha256, source, choices);
  const outline = outlineSplit(project, source, choices, measured, groups);
  // Names that cannot be used are shown with better ones; nothing can be made of them.
  const hindrance = hindranceTo(outline);
  if (hindrance !== undefined)
    return { change: await draft.finish('Nothing yet'), preview: outline, hindrance };
  return { change: await planSplit(context, { outline, choices }), preview: outline };
}

/** Bodies of one shape are only looked for again when a choice that groups depend on is another. */
function groupsOf(
  context: PlanContext,
  sha256: string,
  source: SourcePart,
  choices: SplitChoices,
): Promise<SplitGroup[]> {
  const { product, bodies, surfaces, merge, tolerance, together, materials } = choices;
  const colours = choices.coloursApart ? choices.colours : null;
  const names = choices.namesApart ? choices.bodyNames : null;
  const key = [product, bodies, surfaces, merge, tolerance, together, materials, colours, names];
  return context.remember(`groups ${sha256} ${source.path} ${JSON.stringify(key)}`, async () =>
    groupBodies(source, choices, await context.measured(source.path, product)),
  );
}
