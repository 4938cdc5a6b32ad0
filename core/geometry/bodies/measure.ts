import { unpackedStep } from '#core/files/archive/packed-step';
import { Part21File } from '#core/files/part21/file';
import type { BodyMesh } from '#core/geometry/shape/body';
import type { BodyShape } from '#core/geometry/shape/body-shape';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import type { Kernel, ShapeOptions } from '#core/geometry/shape/kernel';
import { coarserLevels } from '#core/geometry/shape/levels';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import { boxOfPositions } from '#core/product/box';
import { readStructure } from '#core/product/structure';
import type { SourcePart } from './source-part';

/** Asks the kernel for facts and features of every body of a part; a body that it refuses gets its error. */
export async function measureBodies(
  kernel: Kernel,
  source: SourcePart,
  options: Omit<ShapeOptions, 'mesh'> = {},
): Promise<Map<number, MeasuredBody>> {
  const ids = [...new Set(source.bodies.map(({ id }) => id))];
  return measuredOf(await kernel.shapeBodies(source.file.bytes, ids, { ...options, mesh: false }));
}

/** What the kernel found out about bodies, by their numbers. */
export function measuredOf(shapes: readonly BodyShape[]): Map<number, MeasuredBody> {
  return new Map(
    shapes.map((shape) => [
      shape.body,
      'facts' in shape ? { facts: shape.facts, features: shape.features } : { error: shape.error },
    ]),
  );
}

/** Has the kernel mesh every body of a file. */
export async function meshBodies(
  kernel: Kernel,
  step: Uint8Array,
  options: Omit<ShapeOptions, 'mesh'> = {},
): Promise<Map<number, GeometryOfBody>> {
  return meshesOf(await shapeAll(kernel, step, { details: 'none', ...options }));
}

/** Has the kernel mesh and measure every body that the products of a file have. */
export async function shapeAll(
  kernel: Kernel,
  step: Uint8Array,
  options: Omit<ShapeOptions, 'mesh'> = {},
): Promise<BodyShape[]> {
  const content = unpackedStep(step);
  const { products } = readStructure(Part21File.read(content));
  const ids = [...new Set(products.flatMap(({ bodies }) => bodies.map(({ id }) => id)))];
  return ids.length === 0 ? [] : kernel.shapeBodies(content, ids, options);
}

/** The meshes of bodies with their coarser levels, by their numbers. */
export async function meshesOf(shapes: readonly BodyShape[]): Promise<Map<number, GeometryOfBody>> {
  const meshes = new Map<number, GeometryOfBody>();
  for (const { body, mesh = null } of shapes)
    if (mesh && mesh.triangles.length > 0) meshes.set(body, await geometryOf(mesh));
  return meshes;
}

/** A mesh with its coarser levels and its box. */
export async function geometryOf(mesh: BodyMesh): Promise<GeometryOfBody> {
  const { positions, triangles, faceGroups } = mesh;
  const levels = [{ triangles, error: 0 }, ...(await coarserLevels(mesh))];
  return { positions, faceGroups, levels, box: boxOfPositions(positions) };
}
