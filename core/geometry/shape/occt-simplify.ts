import type { BRepAlgoAPI_BooleanOperation, OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { isBreakdown } from './breakdown';
import { isValidShape } from './occt-check';
import { volumeOf } from './occt-measure';

/** Part of a volume by which what is simplified may differ. */
const SAME = 1e-6;

/**
 * What came of a boolean, with faces that lie in one surface as one, so that no seam tells of parts: never at the price of a valid shape, or of
 * volume.
 */
export function simplifiedResult(
  oc: OpenCascadeInstance,
  boolean: Pick<BRepAlgoAPI_BooleanOperation, 'Shape' | 'SimplifyResult'>,
): TopoDS_Shape {
  const before = boolean.Shape();
  const volume = volumeOf(oc, before);
  try {
    boolean.SimplifyResult(true, true, SAME);
    const simple = boolean.Shape();
    if (isValidShape(oc, simple) && Math.abs(volumeOf(oc, simple) - volume) < SAME * Math.abs(volume))
      return simple;
  } catch (error) {
    if (isBreakdown(error)) throw error;
    // What it was before is as good.
  }
  return before;
}
