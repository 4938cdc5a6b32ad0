import { groupBy } from '#core/multimap';
import type { Vector3 } from '#core/product/matrix';
import { distance } from '#core/product/vector';
import type { FillKind } from './opening-kinds';
import type { Opening } from './openings';
import { middleOfPoints, type Topology } from './topology';

/** So many alike in one face make a perforation. */
const LEAST_ALIKE = 8;
/** They stand no further apart than so many times their size: bolts around a flange do. */
const NEAR = 3;

/**
 * By what each opening can be chosen: by what it is, as an engraving where it is no deeper than asked for, and as one of a perforation: many alike
 * ones that stand close together in one face.
 * @param engraved how deep engravings are at most, mm
 */
export function fillKindsOf(
  topology: Topology,
  openings: readonly Opening[],
  engraved: number,
): Map<Opening, Set<FillKind>> {
  const kinds = new Map<Opening, Set<FillKind>>();
  for (const opening of openings) {
    const own = new Set<FillKind>([opening.kind]);
    const isShallow = opening.kind !== 'void' && !opening.isThrough && opening.below <= engraved;
    if (isShallow) own.add('engraving');
    kinds.set(opening, own);
  }
  const open = openings.filter(({ rims }) => rims.length > 0);
  for (const alike of groupBy(open, likeness).values())
    for (const opening of closeTogether(topology, alike)) kinds.get(opening)!.add('perforation');
  return kinds;
}

/** What alike openings in one face have in common. */
function likeness({ kind, rims, faces, mouth, depth }: Opening): string {
  return [kind, rims[0]!.face, faces.length, mouth.toFixed(3), depth.toFixed(3)].join(' ');
}

/** Those of alike openings that have another one close by; none where they are few. */
function closeTogether(topology: Topology, alike: readonly Opening[]): Opening[] {
  if (alike.length < LEAST_ALIKE) return [];
  const middles = alike.map(({ rims: [rim] }): Vector3 => {
    const { loops } = topology.faces[rim!.face]!;
    return middleOfPoints(loops.find(({ bound }) => bound === rim!.bound)!.points);
  });
  const close = alike.filter(({ mouth }, n) =>
    middles.some((other, at) => at !== n && distance(middles[n]!, other) <= NEAR * mouth),
  );
  return close.length < LEAST_ALIKE ? [] : close;
}
