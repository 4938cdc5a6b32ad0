import { z } from 'zod';
import type { CutStep, Cutter, FaceOf, Point } from '#core/geometry/shape/cut';
import { CutChoices, CutSteps, FaceOf as FaceOfSchema, Point as PointSchema } from '#core/jobs/cut/choices';
import type { StageSketch } from '../../stage/types';

export type Axis = 'x' | 'y' | 'z';

/** A face that was picked on the stage. */
export interface PickedFace extends FaceOf {
  /** Row on the stage. */
  row: number;
  at: Point;
  normal: Point;
  isFlat: boolean;
  /** Name of the body or piece. */
  name: string;
}

/** What cuts, while it is still being chosen and drawn. */
export interface Draft {
  kind: Cutter['kind'];
  /** The plane to draw on, or to cut with: across an axis, or on a picked face. */
  on: Axis | 'face';
  /** How far the plane lies along its axis, or off the face, mm. */
  offset: number;
  face: PickedFace | null;
  points: readonly Point[];
}

/** What is kept of a page while somebody is elsewhere: the cuts, what is drawn, what becomes of the pieces. */
export const KeptCut = z.object({
  steps: CutSteps,
  draft: z.object({
    kind: z.enum(['line', 'plane', 'face']),
    on: z.enum(['x', 'y', 'z', 'face']),
    offset: z.number(),
    face: z
      .object({
        ...FaceOfSchema.shape,
        row: z.int(),
        at: PointSchema,
        normal: PointSchema,
        isFlat: z.boolean(),
        name: z.string(),
      })
      .nullable(),
    points: z.array(PointSchema),
  }),
  choices: CutChoices,
});

/** The same, as pages have it in hand. */
export interface CutState {
  steps: readonly CutStep[];
  draft: Draft;
  choices: CutChoices;
}

const NORMALS: { [axis in Axis]: Point } = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

export type Box = readonly number[];

/** A fresh draft across an axis, through the middle of the body. */
export function freshDraft(kind: Draft['kind'], on: Draft['on'], box: Box | null): Draft {
  return { kind, on, offset: on === 'face' ? 0 : middleOf(box, on), face: null, points: [] };
}

/** The plane that is meant; null while its face is not picked. */
export function planeOf({ on, offset, face }: Draft, box: Box | null): { at: Point; normal: Point } | null {
  if (on !== 'face') {
    const at = (['x', 'y', 'z'] as const).map((axis) => (axis === on ? offset : middleOf(box, axis)));
    return { at: at as unknown as Point, normal: NORMALS[on] };
  }
  if (!face?.isFlat) return null;
  const at = face.at.map((value, n) => value + face.normal[n]! * offset) as unknown as Point;
  return { at, normal: face.normal };
}

/** Whether a click on the stage picks a face, and does not lay a point. */
export function picksFace({ kind, on, face }: Draft): boolean {
  return kind === 'face' || (on === 'face' && !face?.isFlat);
}

/** The cutter that the draft stands for, or what is still missing. */
export function cutterOf(draft: Draft, box: Box | null): { cutter: Cutter } | { missing: string } {
  const { kind, on, offset, face, points } = draft;
  if (kind === 'face')
    return face
      ? { cutter: { kind, of: face.of, face: face.face } }
      : { missing: 'Pick the face that cuts, on this body or on a neighbour.' };
  const plane = planeOf(draft, box);
  if (!plane)
    return {
      missing: face ? 'That face is not flat. Pick a flat one.' : 'Pick the flat face to lay the plane on.',
    };
  if (kind === 'plane') {
    // The face's own surface is exact; a plane off it is where the picture says.
    if (on === 'face' && face && offset === 0)
      return { cutter: { kind: 'face', of: face.of, face: face.face } };
    return { cutter: { kind, ...plane } };
  }
  if (points.length < 2)
    return { missing: points.length === 0 ? 'Click where the line starts.' : 'Click where it goes on.' };
  const along: Point | FaceOf = on === 'face' && face ? { of: face.of, face: face.face } : plane.normal;
  return { cutter: { kind, points, along } };
}

/** What the stage shows of it. */
export function sketchOf(draft: Draft, box: Box | null, snaps: readonly Point[]): StageSketch {
  const plane = draft.kind === 'face' ? null : planeOf(draft, box);
  return {
    plane,
    points: draft.points,
    snaps: draft.kind === 'line' ? snaps : [],
    face: draft.face && { row: draft.face.row, face: draft.face.face },
    isDrawing: draft.kind === 'line' && plane !== null && !isClosed(draft.points),
    box: box ?? [-50, -50, -50, 50, 50, 50],
  };
}

/** The draft with one more point; a second click on the same place adds nothing. */
export function withPoint(draft: Draft, point: Point): Draft {
  const last = draft.points.at(-1);
  const isSame = last && Math.hypot(...point.map((value, n) => value - last[n]!)) < 1e-6;
  return isSame ? draft : { ...draft, points: [...draft.points, point] };
}

/** Whether a line comes back to where it started. */
export function isClosed(points: readonly Point[]): boolean {
  const [first, last] = [points[0], points.at(-1)];
  return points.length > 3 && first!.every((value, n) => Math.abs(value - last![n]!) < 1e-6);
}

/** How the steps are told in a list. */
export function cutInWords({ kind }: Cutter, piece: string): string {
  const what = { line: 'along a line', plane: 'by a plane', face: 'by a face' }[kind];
  return piece === '' ? `Cut ${what}` : `Piece ${piece} cut ${what}`;
}

function middleOf(box: Box | null, axis: Axis): number {
  const n = { x: 0, y: 1, z: 2 }[axis];
  return box ? Math.round(((box[n]! + box[n + 3]!) / 2) * 1000) / 1000 : 0;
}
