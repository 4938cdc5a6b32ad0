import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';

/** Parts of a shape of one kind, in its order. */
export function explored(
  oc: OpenCascadeInstance,
  shape: TopoDS_Shape,
  what: 'TopAbs_SOLID' | 'TopAbs_SHELL' | 'TopAbs_FACE' | 'TopAbs_EDGE' | 'TopAbs_VERTEX',
): TopoDS_Shape[] {
  const found: TopoDS_Shape[] = [];
  using explorer = new oc.TopExp_Explorer(shape, oc.TopAbs_ShapeEnum[what]);
  for (; explorer.More(); explorer.Next()) found.push(explorer.Current());
  return found;
}
