import type { Kernel, ShapeOptions } from '#core/shape/kernel';
import type { MeasuredBody } from '#core/shape/placed-shape';
import type { SourcePart } from './source-part';

/** Asks the kernel for facts and features of every body of a part; a body that it refuses gets its error. */
export async function measureBodies(
  kernel: Kernel,
  source: SourcePart,
  options: Omit<ShapeOptions, 'mesh'> = {},
): Promise<Map<number, MeasuredBody>> {
  const ids = [...new Set(source.bodies.map(({ id }) => id))];
  const shapes = await kernel.shapeBodies(source.file.bytes, ids, { ...options, mesh: false });
  return new Map(
    shapes.map((shape) => [
      shape.body,
      'facts' in shape ? { facts: shape.facts, features: shape.features } : { error: shape.error },
    ]),
  );
}
