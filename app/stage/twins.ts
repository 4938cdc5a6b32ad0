import type { Point } from '#core/geometry/shape/cut';

/** Where an eye is, and what it looks at. mm. */
export interface Pose {
  at: Point;
  target: Point;
}

/** A view that can look from where another does. */
export interface TwinView {
  follow(pose: Pose): void;
}

/** Stages that turn together: what one looks at, all do. */
export class StageTwins {
  private readonly views = new Set<TwinView>();
  private last: Pose | null = null;

  /** @returns what makes it leave */
  join(view: TwinView): () => void {
    this.views.add(view);
    if (this.last) view.follow(this.last);
    return () => this.views.delete(view);
  }

  tell(from: TwinView, pose: Pose): void {
    this.last = pose;
    for (const view of this.views) if (view !== from) view.follow(pose);
  }
}

/** Whether two poses are the same, but for rounding. */
export function isSamePose(a: Pose | null, b: Pose): boolean {
  if (!a) return false;
  const size = Math.hypot(...b.at) + 1;
  return (['at', 'target'] as const).every((what) =>
    a[what].every((value, n) => Math.abs(value - b[what][n]!) < 1e-7 * size),
  );
}
