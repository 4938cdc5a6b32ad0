import { areaVector, unrolledArea, windsAround } from '#core/geometry/fill/loop-area';
import type { Vector3 } from '#core/product/matrix';
import { length } from '#core/product/vector';
import { type BoundaryFace, type BoundaryLoop, type Edge, endOf, startOf, type Use } from './boundary';

/** Whether each edge of a loop begins where the one before ends. */
export function isClosed(uses: readonly Use[]): boolean {
  return uses.length > 0 && uses.every((use, n) => endOf(use) === startOf(uses[(n + 1) % uses.length]!));
}

/** What comes behind each use of an edge in the loops of some faces. */
export function followersIn(faces: Iterable<BoundaryFace>): Map<Use, Use> {
  const followers = new Map<Use, Use>();
  for (const { loops } of faces)
    for (const { uses } of loops)
      for (const [n, use] of uses.entries()) followers.set(use, uses[(n + 1) % uses.length]!);
  return followers;
}

/** The loops that uses of edges make, each followed by another; undefined where they do not close. */
export function loopsOf(uses: ReadonlySet<Use>, followers: ReadonlyMap<Use, Use>): Use[][] | undefined {
  const left = new Set(uses);
  const loops: Use[][] = [];
  for (const start of uses) {
    if (!left.has(start)) continue;
    const loop: Use[] = [];
    for (let use = start; left.delete(use); ) {
      loop.push(use);
      const next = followers.get(use);
      if (!next || !uses.has(next)) return undefined;
      use = next;
    }
    const bare = withoutSpurs(loop);
    if (bare.length === 0) continue;
    if (!isClosed(bare)) return undefined;
    loops.push(bare);
  }
  return loops;
}

/** A loop without edges that it goes along and straight back again. */
function withoutSpurs(loop: readonly Use[]): Use[] {
  const isSpur = (one: Use, other: Use) => one.edge === other.edge && one.isForward !== other.isForward;
  const left: Use[] = [];
  for (const use of loop) {
    const before = left.at(-1);
    if (before && isSpur(before, use)) left.pop();
    else left.push(use);
  }
  while (left.length > 1 && isSpur(left[0]!, left.at(-1)!)) {
    left.pop();
    left.shift();
  }
  return left;
}

/** The points that a loop leads through. */
export function pointsOfLoop(uses: readonly Use[]): Vector3[] {
  return uses.flatMap(({ edge: { points }, isForward }) =>
    (isForward ? points : [...points].reverse()).slice(0, -1),
  );
}

/** Loops of a face, each marked whether it bounds it from outside: flat ones by their area, round ones by what winds about the axis. */
export function markedLoops(
  { surface }: Pick<BoundaryFace, 'surface'>,
  loops: readonly Use[][],
): BoundaryLoop[] {
  const points = loops.map(pointsOfLoop);
  const area = (own: readonly Vector3[]) => {
    if (surface.kind === 'plane' || surface.kind === 'other') return length(areaVector(own));
    return windsAround(surface, own) ? Infinity : Math.abs(unrolledArea(surface, own));
  };
  const areas = points.map(area);
  const largest = Math.max(...areas);
  return loops.map((uses, n) => ({ uses, isInner: areas[n]! < largest }));
}

/** The edges of a face. */
export function* edgesOf({ loops }: BoundaryFace): Iterable<Edge> {
  for (const { uses } of loops) for (const { edge } of uses) yield edge;
}
