import { makeBaseBox, type Shape3D, setOC } from 'replicad';
import type { OpenCascadeInstance } from 'replicad-opencascadejs';
import { startOcct } from '#core/geometry/shape/occt';
import { writeStep } from '#core/geometry/shape/occt-step';

let started: Promise<OpenCascadeInstance> | undefined;

/** Starts the kernel that test bodies are modelled with; before any of them is made. */
export function startModelling(): Promise<OpenCascadeInstance> {
  started ??= startOcct().then((oc) => {
    setOC(oc as never);
    return oc;
  });
  return started;
}

/** Bodies that were modelled, as the STEP text that the kernel writes: true surfaces, as other systems have them. */
export async function stepOfShapes(shapes: readonly Shape3D[], unit = 'MM'): Promise<Uint8Array> {
  const oc = await startModelling();
  return writeStep(
    oc,
    shapes.map(({ wrapped }) => wrapped as never),
    unit,
  );
}

/** A box on its middle, after `startModelling`. mm. */
export function boxAt(x: number, y: number, z: number, at: [number, number, number] = [0, 0, 0]): Shape3D {
  return makeBaseBox(x, y, z).translate(at) as Shape3D;
}
