import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import type { Matrix4 } from '#core/product/matrix';
import type { BodyFacts, BodyMesh } from './body';
import { isBreakdown } from './breakdown';
import { isValidShape } from './occt-check';
import { explored } from './occt-explore';
import { measureShape, meshShape, volumeOf } from './occt-measure';
import { simplifiedResult } from './occt-simplify';
import { writeStep } from './occt-step';

/** What is left of a body where others were taken out of it. */
export interface TrimmedShape {
  /** Of all pieces together. */
  mesh: BodyMesh;
  facts: BodyFacts;
  /** Volume of the whole body, mm³. */
  before: number;
  /** As STEP text in millimetres, a body for each piece. */
  step: Uint8Array;
}

const FAILED = 'The geometry kernel failed at cutting it off.';

/**
 * Takes others out of a body, exactly. @param others each where it stands in the body's coordinates
 * @returns a sentence where the kernel cannot do it well
 */
export function trimShape(
  oc: OpenCascadeInstance,
  body: TopoDS_Shape,
  others: readonly { shape: TopoDS_Shape; placement: Matrix4 }[],
): TrimmedShape | string {
  using cut = new oc.BRepAlgoAPI_Cut();
  using bodies = new oc.NCollection_List_TopoDS_Shape();
  using tools = new oc.NCollection_List_TopoDS_Shape();
  bodies.Append(body);
  for (const { shape, placement } of others) tools.Append(movedShape(oc, shape, placement));
  cut.SetArguments(bodies);
  cut.SetTools(tools);
  try {
    cut.Build();
  } catch (error) {
    if (isBreakdown(error)) throw error;
    return FAILED;
  }
  if (cut.HasErrors()) return FAILED;
  // What lies in one plane beside the cut is one face: else the rim of what was cut off would be told by an edge.
  const left = simplifiedResult(oc, cut);
  if (!isValidShape(oc, left)) return 'What would be left of it is not valid.';
  const pieces = explored(oc, left, 'TopAbs_SOLID');
  if (pieces.length === 0) return 'Nothing would be left of it.';
  const mesh = meshShape(oc, left);
  return {
    mesh,
    facts: measureShape(oc, left, mesh),
    before: volumeOf(oc, body),
    step: writeStep(oc, pieces, 'MM'),
  };
}

/** A shape moved and turned, not scaled. */
function movedShape(oc: OpenCascadeInstance, shape: TopoDS_Shape, m: Matrix4): TopoDS_Shape {
  using motion = new oc.gp_Trsf();
  motion.SetValues(m[0]!, m[1]!, m[2]!, m[3]!, m[4]!, m[5]!, m[6]!, m[7]!, m[8]!, m[9]!, m[10]!, m[11]!);
  using transform = new oc.BRepBuilderAPI_Transform(shape, motion, true);
  return transform.Shape();
}
