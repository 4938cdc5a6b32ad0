import type { BRepAlgoAPI_Cut, OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import type { Matrix4 } from '#core/product/matrix';
import type { BodyFacts, BodyMesh } from './body';
import { isValidShape } from './occt-check';
import { measureShape, meshShape, volumeOf } from './occt-measure';
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
  cut.Build();
  if (cut.HasErrors()) return 'The geometry kernel failed at cutting it off.';
  const left = simplified(oc, cut);
  if (!isValidShape(oc, left)) return 'What would be left of it is not valid.';
  const pieces: TopoDS_Shape[] = [];
  using explorer = new oc.TopExp_Explorer(left, oc.TopAbs_ShapeEnum.TopAbs_SOLID);
  for (; explorer.More(); explorer.Next()) pieces.push(explorer.Current());
  if (pieces.length === 0) return 'Nothing would be left of it.';
  const mesh = meshShape(oc, left);
  return {
    mesh,
    facts: measureShape(oc, left, mesh),
    before: volumeOf(oc, body),
    step: writeStep(oc, pieces, 'MM'),
  };
}

/**
 * What a cut left, with what lies in one plane beside the cut as one face: else the rim of what was cut off would be told by an edge. As it was
 * where that does not go well.
 */
function simplified(oc: OpenCascadeInstance, cut: BRepAlgoAPI_Cut): TopoDS_Shape {
  const before = cut.Shape();
  const volume = volumeOf(oc, before);
  try {
    cut.SimplifyResult(true, true, 1e-6);
    const simple = cut.Shape();
    if (isValidShape(oc, simple) && Math.abs(volumeOf(oc, simple) - volume) < 1e-6 * volume) return simple;
  } catch {
    // What it was before is as good.
  }
  return before;
}

/** A shape moved and turned, not scaled. */
function movedShape(oc: OpenCascadeInstance, shape: TopoDS_Shape, m: Matrix4): TopoDS_Shape {
  using motion = new oc.gp_Trsf();
  motion.SetValues(m[0]!, m[1]!, m[2]!, m[3]!, m[4]!, m[5]!, m[6]!, m[7]!, m[8]!, m[9]!, m[10]!, m[11]!);
  using transform = new oc.BRepBuilderAPI_Transform(shape, motion, true);
  return transform.Shape();
}
