import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';

/** The kernel's own check: whether faces, edges and vertices of a shape fit each other, and close it. */
export function isValidShape(oc: OpenCascadeInstance, shape: TopoDS_Shape): boolean {
  using check = new oc.BRepCheck_Analyzer(shape, true, false, false);
  return check.IsValid();
}
