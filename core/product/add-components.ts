import { builderAfter, extended } from '#core/files/part21/extend';
import { Part21File } from '#core/files/part21/file';
import { Reference } from '#core/files/part21/parameters';
import { IDENTITY, type Matrix4 } from './matrix';
import { lengthUnitOfContext } from './units';
import { addOccurrence, addStandIn, type Frame } from './write-components';
import { addAxisPlacement } from './write-geometry';

/** A component in another file that an assembly shall place too. */
export interface ComponentToAdd {
  id: string;
  name: string;
  /** The path as it shall stand in the file. */
  written: string;
  /** mm, in the assembly's coordinates. */
  placings: { name: string; placement: Matrix4 }[];
}

/**
 * Places more components in an assembly that is there, with a reference to the file of each. The assembly's own
 * contexts and units are used; every other byte stays as it was.
 * @param assembly number of the PRODUCT_DEFINITION that places them
 * @throws Error when the assembly has no representation to place them in
 */
export function addComponents(
  bytes: Uint8Array,
  assembly: number,
  components: readonly ComponentToAdd[],
): Uint8Array {
  const file = Part21File.read(bytes);
  const shape = file
    .idsOfType('SHAPE_DEFINITION_REPRESENTATION')
    .map((id) => ({
      of: file.referenceOf(file.referenceOf(id, 0), 2),
      representation: file.referenceOf(id, 1),
    }))
    .find(({ of }) => of === assembly)?.representation;
  const context = file.referenceOf(shape, 2);
  if (shape === undefined || context === undefined)
    throw new Error('The assembly has no representation in which components could be placed.');

  const product = file.referenceOf(file.referenceOf(assembly, 2), 2);
  const definitionContext = file.referenceOf(assembly, 3);
  const builder = builderAfter(file);
  const millimetres = lengthUnitOfContext(file, context)?.millimetres ?? 1;
  const frame: Frame = {
    builder,
    productContexts: file.referencesOf(product, 3).map((id) => new Reference(id)),
    definitionContext: definitionContext === undefined ? null : new Reference(definitionContext),
    context: new Reference(context),
    millimetres,
    origin: addAxisPlacement(builder, IDENTITY, millimetres),
    shared: new Map(),
  };
  const documentType = builder.add('DOCUMENT_TYPE', 'configuration controlled document version');
  const items = new Set([frame.origin.id]);
  const usages = new Set(
    file.idsOfType('NEXT_ASSEMBLY_USAGE_OCCURRENCE').map((id) => file.stringOf(id, 0)?.text),
  );
  for (const component of components) {
    const placed = addStandIn(frame, component, documentType);
    for (const [n, placing] of component.placings.entries()) {
      let number = n + 1;
      while (usages.has(`${component.id}.${number}`)) number++;
      const id = `${component.id}.${number}`;
      usages.add(id);
      const { item, finish } = addOccurrence(frame, new Reference(assembly), placed, { id, ...placing });
      items.add(item.id);
      finish(new Reference(shape));
    }
  }
  return extended(file, builder, [{ id: shape, position: 1, items: [...items] }]);
}
