import { closurePositions } from '#core/files/part21/closure';
import { copyInstances } from '#core/files/part21/copy';
import { Part21File } from '#core/files/part21/file';
import type { Reference } from '#core/files/part21/parameters';
import { withoutLabels } from '#core/files/part21/without-labels';
import { NO_TIME, Part21Builder } from '#core/files/part21/write';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { readStructure } from '#core/product/structure';
import { AP242, addFrame } from '#core/product/write-assembly';
import { addProduct, type Frame } from '#core/product/write-components';
import { Refusal } from '#core/refusal';
import { addFacets } from './facets';

/** A solid as the kernel wrote it, or as facets. */
export type SolidShape = { step: Uint8Array } | { mesh: SolidMesh };

/**
 * Writes one solid, or several that touch each other nowhere, as one part that knows nothing: new numbers, no labels, an empty header. Of what
 * the kernel wrote only the geometry is taken.
 */
export function writeSolid(solids: readonly SolidShape[], name: string, fileName: string): Uint8Array {
  const builder = new Part21Builder();
  const frame = addFrame(builder, 'mm');
  const { shape } = addProduct(frame, name, name);
  builder.add('SHAPE_DEFINITION_REPRESENTATION', shape, addSolids(frame, solids, name, frame.origin));
  return builder.finish({ name: fileName, timeStamp: NO_TIME, originatingSystem: '', schema: AP242 });
}

/** Adds solids as the shape of one product. @returns its representation */
export function addSolids(
  { builder, context }: Pick<Frame, 'builder' | 'context'>,
  solids: readonly SolidShape[],
  name: string,
  origin: Reference,
): Reference {
  const isFaceted = solids.every((solid) => 'mesh' in solid);
  const bodies = solids.map((solid) =>
    'mesh' in solid ? addFacets(builder, solid.mesh) : addExact(builder, solid.step),
  );
  const keyword = isFaceted ? 'FACETED_BREP_SHAPE_REPRESENTATION' : 'ADVANCED_BREP_SHAPE_REPRESENTATION';
  return builder.add(keyword, name, [origin, ...bodies], context);
}

function addExact(builder: Part21Builder, step: Uint8Array): Reference {
  const labelled = Part21File.read(step);
  const [body] = readStructure(labelled).products.flatMap(({ bodies }) => bodies);
  if (!body) throw new Refusal('No solid could be made.');
  const file = Part21File.read(withoutLabels(labelled, closurePositions(labelled, [body.id])));
  const copies = copyInstances(file, closurePositions(file, [body.id]), builder);
  return copies.get(body.id)!;
}
