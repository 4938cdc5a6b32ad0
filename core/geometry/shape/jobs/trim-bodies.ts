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
    try {
      return bodies.map(({ file, body, others }, done) => {
        using shape = open[file]!.translate(body);
        const placed = others.map((other) => ({
          shape: open[other.file]!.translate(other.body),
          placement: other.placement,
        }));
        const trimmed = trimShape(kernel, shape, placed);
        for (const other of placed) other.shape.delete();
        tell(done + 1);
        return trimmed;
      });
    } finally {
      for (const file of open) file[Symbol.dispose]();
    }
  },
};
