import { isSameSurface, offSurface } from '#core/geometry/fill/surfaces';
import { dot } from '#core/product/vector';
import type { BoundaryFace } from './boundary';

/** How far planes may lie apart that are one, mm. */
const SAME = 1e-6;

/** Whether two faces lie in one surface, with the material on the same side. */
export function lieInOneSurface(one: BoundaryFace, other: BoundaryFace): boolean {
  if (one === other) return true;
  const [a, b] = [one.surface, other.surface];
  if (a.kind === 'plane' && b.kind === 'plane') {
    const turn = dot(a.normal, b.normal) * (one.isSame === other.isSame ? 1 : -1);
    return turn > 1 - 1e-9 && Math.abs(offSurface(a, b.at)!) < SAME;
  }
  return one.isSame === other.isSame && isSameSurface(a, b);
}
