import type { TopoDS_Shape } from 'replicad-opencascadejs';
import { OcctStepFile } from '#core/geometry/shape/occt';
import { type TrimmedShape, trimShape } from '#core/geometry/shape/occt-trim';
import type { Matrix4 } from '#core/product/matrix';
import type { GeometryJob } from './geometry-job';

/** A body of a file, by the position of the file. */
interface BodyIn {
  file: number;
  body: number;
}

/** A body, and others that are taken out of it where they stand in its coordinates. */
export interface BodyToTrim extends BodyIn {
  others: (BodyIn & { placement: Matrix4 })[];
}

export interface BodiesToTrim {
  files: readonly Uint8Array[];
  bodies: readonly BodyToTrim[];
}

/** Takes bodies out of others; tells after each. Its result, for each in turn: what is left, or why that could not be done. */
export const TRIM_BODIES: GeometryJob<BodiesToTrim, number, (TrimmedShape | string)[]> = {
  run(kernel, { files, bodies }, tell) {
    const wanted = files.map(() => new Set<number>());
    for (const one of bodies) for (const { file, body } of [one, ...one.others]) wanted[file]!.add(body);
    const open = files.map((step, n) => new OcctStepFile(kernel, step, wanted[n]!));
    // A housing is read once for all that end in it.
    const shapes = new Map<string, TopoDS_Shape>();
    const shapeOf = ({ file, body }: BodyIn) => {
      const key = `${file} ${body}`;
      const shape = shapes.get(key) ?? open[file]!.translate(body);
      shapes.set(key, shape);
      return shape;
    };
    try {
      return bodies.map((one, done) => {
        const placed = one.others.map((other) => ({ shape: shapeOf(other), placement: other.placement }));
        const trimmed = trimShape(kernel, shapeOf(one), placed);
        tell(done + 1);
        return trimmed;
      });
    } finally {
      for (const shape of shapes.values()) shape.delete();
      for (const file of open) file[Symbol.dispose]();
    }
  },
};
