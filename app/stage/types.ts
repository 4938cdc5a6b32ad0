import type { Point } from '#core/geometry/shape/cut';

export type { SceneData as StageScene } from '#core/geometry/scene';

/** The standard directions to look from, in the order in which they are offered. */
export const DIRECTIONS: readonly Direction[] = ['corner', 'front', 'back', 'left', 'right', 'top', 'below'];

export type Direction = 'front' | 'back' | 'left' | 'right' | 'top' | 'below' | 'corner';

/** Where a model is cut open: what lies on the side of the normal is taken away. mm, in the coordinates of the scene. */
export interface SectionPlane {
  normal: Point;
  /** Distance from the origin along the normal. */
  at: number;
}

export interface StagePick {
  row: number;
  name: string;
}

/** Where on a body a pick went: mm, in the coordinates of the scene. */
export interface StageFacePick extends StagePick {
  point: Point;
  /** Which face of the body, counted as the kernel does. */
  face: number;
  normal: Point;
  /** Whether the face is a plane. */
  isFlat: boolean;
}

/** A name beside a body on the stage. */
export interface StageLabel {
  row: number;
  text: string;
  /** What the field holds when the label is clicked. */
  name: string;
  tone?: 'typed' | 'problem';
}

/** What is being drawn on the stage; mm, in the coordinates of the scene. */
export interface StageSketch {
  /** The plane that points are laid on, or that cuts. */
  plane: { at: Point; normal: Point } | null;
  /** The line so far. */
  points: readonly Point[];
  /** Points that catch the pointer. */
  snaps: readonly Point[];
  /** A face that is lit. */
  face: { row: number; face: number } | null;
  /** Whether a click lays a point. */
  isDrawing: boolean;
  /** Box of what is cut: smallest and largest x, y, z, mm. */
  box: readonly number[];
}
