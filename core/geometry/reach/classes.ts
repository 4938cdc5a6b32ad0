import { faceCount } from '#core/geometry/shape/solid-mesh';
import type { Whole } from '#core/geometry/whole/whole';
import type { Progress } from '#core/planning';
import type { Vector3 } from '#core/product/matrix';
import { type Reached, reachedFaces } from './reached';
import { seenBodies } from './seen';

/** What of a whole is there for whoever stands outside: a ball comes to it, it is only seen through an opening, or neither. */
export const REACH_CLASSES = ['reached', 'seen', 'neither'] as const;
export type ReachClass = (typeof REACH_CLASSES)[number];

export interface ReachOfBody {
  class: ReachClass;
  /** Faces that the ball comes to. */
  faces: number;
  /** Part of the pictures from all around that shows it; 0 for one that is reached: what is seen of it does not matter. */
  share: number;
  /** Towards the eye that sees most of it, as far as it is not reached. */
  from: Vector3 | null;
}

/** The reach of every body of a whole. */
export interface ReachOfWhole {
  reached: Reached;
  bodies: ReachOfBody[];
}

/** A body without a mesh counts as reached: nobody knows where it is. */
export async function reachOf(whole: Whole, gap: number, progress?: Progress): Promise<ReachOfWhole> {
  const reached = await reachedFaces(whole, gap, progress);
  const faces = reached.faces.map((ofBody) => ofBody.reduce((sum, one) => sum + one, 0));
  const isReached = (n: number) => faces[n]! > 0 || !whole.shapes[whole.bodies[n]!.shape]!.mesh;
  const isAll = whole.bodies.every((_, n) => isReached(n));
  const seen = isAll ? [] : await seenBodies(whole, progress);
  const bodies = whole.bodies.map((_, n): ReachOfBody => {
    if (isReached(n)) return { class: 'reached', faces: faces[n]!, share: 0, from: null };
    const { share, from } = seen[n]!;
    return { class: share > 0 ? 'seen' : 'neither', faces: 0, share, from };
  });
  return { reached, bodies };
}

/** Where nobody asks: everything counts as reached, which takes nothing away. */
export function everythingReached(whole: Whole): ReachOfWhole {
  const faces = whole.bodies.map(({ shape }) => new Uint8Array(faceCount(whole.shapes[shape]!.mesh)).fill(1));
  return {
    reached: { gap: 0, faces },
    bodies: faces.map(({ length }) => ({ class: 'reached', faces: length, share: 0, from: null })),
  };
}
