import type { BRepAlgoAPI_BooleanOperation, OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import type { Vector3 } from '#core/product/matrix';
import { offset } from '#core/product/vector';
import { isBreakdown } from './breakdown';
import { isValidShape } from './occt-check';
import { cylinderShape } from './occt-cylinder';
import { explored } from './occt-explore';
import { measureShape, meshShape, volumeOf } from './occt-measure';
import { simplifiedResult } from './occt-simplify';
import { writeStep } from './occt-step';
import type { TrimmedShape } from './occt-trim';

/** A ring in which something stands around an axis, mm, in the coordinates of the body. */
export interface RingToFill {
  /** A point on the axis, and its direction. */
  at: Vector3;
  axis: Vector3;
  /** Radii between which it lies. */
  inner: number;
  outer: number;
  /** Where it begins and ends along the axis, from the point on. */
  from: number;
  to: number;
  /** Whether what is in it stands inwards, as in a ring gear or a nut. */
  isInternal: boolean;
  /** Whether it winds about the axis. */
  isThread: boolean;
}

/** How far a ring reaches into the material that teeth stand on, as part of their depth: the first that is all material. */
const INTO = [0.2, 0.03];
/** Part of a volume that meshes and reals leave open. */
const OPEN = 1e-3;
/** Part of what lies under the roots that has to be material: screw holes may reach into it, a bore behind a thin wall may not. */
const SOLID = 0.98;

/**
 * Fills the rings in which teeth, threads or fins of a body stand: then these are plain cylinders. Material is only added, and only in the
 * rings.
 * @returns a sentence where the kernel cannot do it well
 */
export function roundOutShape(
  oc: OpenCascadeInstance,
  body: TopoDS_Shape,
  rings: readonly RingToFill[],
): TrimmedShape | string {
  const before = volumeOf(oc, body);
  const most = rings.reduce(
    (sum, { inner, outer, from, to }) => sum + Math.PI * (outer ** 2 - inner ** 2) * (to - from),
    0,
  );
  const placed: RingInMaterial[] = [];
  for (const ring of rings) {
    const into = INTO.map((part) => part * (ring.outer - ring.inner)).find((deep) =>
      isSolidUnder(oc, body, ring, deep),
    );
    if (into === undefined) return 'What they stand on is too thin.';
    placed.push({ ...ring, into });
  }
  let why = '';
  // Winding surfaces are hard to unite with what they touch: then they are cut away first, through the material that they stand on.
  const winds = rings.some(({ isThread }) => isThread);
  for (const isCutFirst of [winds, !winds]) {
    try {
      const base = isCutFirst ? withoutRings(oc, body, placed) : body;
      const round = united(
        oc,
        base,
        placed.map((ring) => ringShape(oc, ring, 0)),
      );
      why = wrongWith(oc, round, { before, most });
      if (why !== '') continue;
      const mesh = meshShape(oc, round);
      const step = writeStep(oc, explored(oc, round, 'TopAbs_SOLID'), 'MM');
      return { mesh, facts: measureShape(oc, round, mesh), before, step };
    } catch (error) {
      if (isBreakdown(error)) throw error;
      why = 'The geometry kernel failed at it.';
    }
  }
  return why;
}

/** What is wrong with a body whose rings were filled; nothing mostly. */
function wrongWith(
  oc: OpenCascadeInstance,
  round: TopoDS_Shape,
  { before, most }: { before: number; most: number },
): string {
  if (!isValidShape(oc, round)) return 'What would come of it is not valid.';
  if (explored(oc, round, 'TopAbs_SOLID').length !== 1) return 'It would fall into pieces.';
  const added = volumeOf(oc, round) - before;
  if (added <= 0) return 'Nothing is there that could be filled.';
  return added > (1 + OPEN) * most ? 'More would be filled than lies between its teeth.' : '';
}

/** Whether all is material on the side of the roots, so deep: a ring that reached through a thin wall would close what lies behind it. */
function isSolidUnder(oc: OpenCascadeInstance, body: TopoDS_Shape, ring: RingToFill, into: number): boolean {
  const { inner, outer, from, to, isInternal } = ring;
  const [low, high] = isInternal ? [outer, outer + into] : [inner - into, inner];
  if (low <= 0) return false;
  using common = new oc.BRepAlgoAPI_Common();
  try {
    setUp(oc, common, body, [tubeShape(oc, ring, low, high)]);
    const all = Math.PI * (high ** 2 - low ** 2) * (to - from);
    return volumeOf(oc, common.Shape()) > SOLID * all;
  } catch (error) {
    if (isBreakdown(error)) throw error;
    return false;
  }
}

interface RingInMaterial extends RingToFill {
  /** How far it reaches into the material that the teeth stand on, mm. */
  into: number;
}

function united(oc: OpenCascadeInstance, body: TopoDS_Shape, others: readonly TopoDS_Shape[]): TopoDS_Shape {
  using fuse = new oc.BRepAlgoAPI_Fuse();
  setUp(oc, fuse, body, others);
  return simplifiedResult(oc, fuse);
}

function withoutRings(
  oc: OpenCascadeInstance,
  body: TopoDS_Shape,
  rings: readonly RingInMaterial[],
): TopoDS_Shape {
  return cutAway(
    oc,
    body,
    rings.map((ring) => ringShape(oc, ring, ring.into)),
  );
}

function cutAway(oc: OpenCascadeInstance, body: TopoDS_Shape, others: readonly TopoDS_Shape[]): TopoDS_Shape {
  using cut = new oc.BRepAlgoAPI_Cut();
  setUp(oc, cut, body, others);
  return cut.Shape();
}

function setUp(
  oc: OpenCascadeInstance,
  boolean: BRepAlgoAPI_BooleanOperation,
  body: TopoDS_Shape,
  others: readonly TopoDS_Shape[],
): void {
  using bodies = new oc.NCollection_List_TopoDS_Shape();
  using tools = new oc.NCollection_List_TopoDS_Shape();
  bodies.Append(body);
  for (const other of others) tools.Append(other);
  boolean.SetArguments(bodies);
  boolean.SetTools(tools);
  boolean.Build();
  if (boolean.HasErrors()) throw new Error('The boolean has errors.');
}

/**
 * A ring that reaches a little into the material on the side of the roots.
 * @param beyond how far it reaches past the tips, mm
 */
function ringShape(oc: OpenCascadeInstance, ring: RingInMaterial, beyond: number): TopoDS_Shape {
  const { inner, outer, into, isInternal } = ring;
  return isInternal
    ? tubeShape(oc, ring, inner - beyond, outer + into)
    : tubeShape(oc, ring, inner - into, outer + beyond);
}

/** A tube about the axis of a ring, as long as that is. */
function tubeShape(
  oc: OpenCascadeInstance,
  { at, axis, from, to }: RingToFill,
  low: number,
  high: number,
): TopoDS_Shape {
  const cylinder = (radius: number, more: number) =>
    cylinderShape(oc, {
      at: offset(at, axis, from - more),
      direction: axis,
      length: to - from + 2 * more,
      radius,
    });
  return cutAway(oc, cylinder(high, 0), [cylinder(low, high - low)]);
}
