import { volumesOf } from '#core/geometry/reduce/left';
import { finestMesh } from '#core/geometry/shape/solid-mesh';
import { type HeavyBody, type Mass, massOf } from '#core/geometry/solids/mass';
import { meshOfBody, type Whole } from '#core/geometry/whole/whole';
import type { PlanContext } from '#core/planning';
import { densityOfPart } from '#core/product/materials';
import type { RigidGroup } from './choices';

/**
 * What each group weighs, with all that is in it as it was drawn: what is hidden weighs, too. Parts of no known material weigh what is asked
 * for; a warning says how many they are.
 * @param density kg/m³
 */
export async function massesOf(
  context: PlanContext,
  whole: Whole,
  groups: readonly RigidGroup[],
  density: number,
): Promise<(Mass | null)[]> {
  const volumes = await volumesOf(context, whole);
  const byKey = new Map(whole.occurrences.map((occurrence) => [occurrence.key, occurrence]));
  const unknown = new Set<string>();
  const masses = groups.map(({ members }) =>
    massOf(
      members.flatMap((key) => {
        const { bodies, place } = byKey.get(key)!;
        const known = densityOfPart(place.product);
        if (known === null) unknown.add(place.product.name);
        return bodies.flatMap((n): HeavyBody[] => {
          const mesh = meshOfBody(whole, n);
          const { placement } = whole.bodies[n]!;
          if (!mesh) return [];
          return [{ mesh: finestMesh(mesh), placement, volume: volumes[n]!, density: known ?? density }];
        });
      }),
    ),
  );
  if (unknown.size > 0)
    context.draft.warn(
      `${unknown.size === 1 ? '1 part is' : `${unknown.size} parts are`} of no known material and weigh ${density} kg/m³: ${[...unknown].slice(0, 4).join(', ')}${unknown.size > 4 ? ' and more' : ''}.`,
    );
  return masses;
}
