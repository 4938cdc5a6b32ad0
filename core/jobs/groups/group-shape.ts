import { Copies } from '#core/files/part21/copy';
import type { Reference } from '#core/files/part21/parameters';
import { amountsLeft, meshLeft } from '#core/geometry/reduce/left';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import { meshOfWhole } from '#core/geometry/reduce/whole-mesh';
import { addPartShape } from '#core/geometry/reduce/write-reduced';
import { faceCount, joinedMesh, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import { facetCount } from '#core/geometry/solids/facets';
import { addSolids } from '#core/geometry/solids/write-solid';
import type { SealedSolid } from '#core/jobs/seal/sealed-solid';
import { IDENTITY } from '#core/product/matrix';
import { addMapped } from '#core/product/write-components';
import { addAxisPlacement } from '#core/product/write-geometry';

/** A rigid group as it is written: as one solid, or as several that hang together nowhere; or as the parts that are left of it. */
export type GroupShape = { solids: readonly SealedSolid[] } | { parts: ReducedWhole };

/** Adds the shape of a group. */
export function addGroupShape(
  frame: Parameters<typeof addPartShape>[0],
  group: GroupShape,
  name: string,
): { representation: Reference; origin: Reference } {
  const origin = addAxisPlacement(frame.builder, IDENTITY, frame.millimetres);
  if ('solids' in group) {
    const solids = group.solids.map(({ shape }) => shape);
    return { representation: addSolids(frame, solids, name, origin), origin };
  }
  const items: Reference[] = [origin];
  for (const part of group.parts.parts) {
    const copies = new Copies(part.source.file);
    const shape = addPartShape(frame, part.source, part, name, { forget: new Set() }, copies);
    const placements = part.placings.map(({ placement }) => placement);
    items.push(...addMapped(frame, shape, placements));
  }
  return { representation: frame.builder.add('SHAPE_REPRESENTATION', name, items, frame.context), origin };
}

/** A group as triangles, where it is drawn. */
export function meshOfGroup(group: GroupShape): SolidMesh {
  if ('solids' in group) return joinedMesh(group.solids.map(({ closed }) => closed));
  return meshOfWhole(group.parts.whole, meshLeft(group.parts));
}

/** How many bodies and faces groups have together. */
export function amountsOf(groups: readonly GroupShape[]): { bodies: number; faces: number } {
  let [bodies, faces] = [0, 0];
  for (const group of groups) {
    if ('parts' in group) {
      const left = amountsLeft(group.parts);
      bodies += left.bodies;
      faces += left.faces;
      continue;
    }
    bodies += group.solids.length;
    for (const { shape, mesh } of group.solids)
      faces += 'mesh' in shape ? facetCount(shape.mesh) : faceCount(mesh);
  }
  return { bodies, faces };
}
