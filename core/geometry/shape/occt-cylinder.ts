import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import type { Pin } from './unite';

/** A cylinder as a solid, mm. */
export function cylinderShape(oc: OpenCascadeInstance, { at, direction, length, radius }: Pin): TopoDS_Shape {
  using point = new oc.gp_Pnt(...at);
  using along = new oc.gp_Dir(...direction);
  using axes = new oc.gp_Ax2(point, along);
  using maker = new oc.BRepPrimAPI_MakeCylinder(axes, radius, length);
  return maker.Shape();
}
