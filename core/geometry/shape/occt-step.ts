import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';

/** Shapes as STEP text, without parametric curves: they follow from the surfaces and measure angles in the unit. */
export function writeStep(
  oc: OpenCascadeInstance,
  shapes: readonly TopoDS_Shape[],
  unit: string,
): Uint8Array {
  using writer = new oc.STEPControl_Writer();
  oc.Interface_Static.SetCVal('write.step.unit', unit);
  oc.Interface_Static.SetIVal('write.surfacecurve.mode', 0);
  using progress = new oc.Message_ProgressRange();
  for (const shape of shapes)
    writer.Transfer(shape, oc.STEPControl_StepModelType.STEPControl_AsIs, true, progress);
  writer.Write('written.stp');
  const bytes = oc.FS.readFile('written.stp') as Uint8Array;
  oc.FS.unlink('written.stp');
  return bytes.slice();
}
