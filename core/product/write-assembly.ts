import type { Reference } from '#core/files/part21/parameters';
import { Part21Builder } from '#core/files/part21/write';
import { IDENTITY } from './matrix';
import {
  addOccurrence,
  addProduct,
  addStandIn,
  type ComponentToWrite,
  type Frame,
  type PlacementForm,
  type ReferenceForm,
} from './write-components';
import { addAxisPlacement, addGeometryContext } from './write-geometry';

export interface AssemblyToWrite {
  id: string;
  name: string;
  /** Name in the header; the file's own name. */
  fileName: string;
  timeStamp: string;
  originatingSystem?: string;
  components: ComponentToWrite[];
  unit?: 'mm' | 'm' | 'in';
  /** As it stands in the header; AP242 unless the parts inside the file ask for another. */
  schema?: string;
  /** Adds more about the assembly's PRODUCT_DEFINITION, such as where it came from. */
  also?: (builder: Part21Builder, definition: Reference) => void;
  referenceForm?: ReferenceForm;
  placementForm?: PlacementForm;
}

const MILLIMETRES = { mm: 1, m: 1000, in: 25.4 };

/** The schema of files that are made here from nothing. */
export const AP242 = 'AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF { 1 0 10303 442 1 1 4 }';

/** Begins a file: the contexts of its products, its units, its origin. */
export function addFrame(builder: Part21Builder, unit: 'mm' | 'm' | 'in'): Frame {
  const add = builder.add.bind(builder);
  const application = add('APPLICATION_CONTEXT', 'managed model based 3d engineering');
  add(
    'APPLICATION_PROTOCOL_DEFINITION',
    'international standard',
    'ap242_managed_model_based_3d_engineering',
    2014,
    application,
  );
  const productContext = add('PRODUCT_CONTEXT', '', application, 'mechanical');
  const definitionContext = add('PRODUCT_DEFINITION_CONTEXT', 'part definition', application, 'design');
  const context = addGeometryContext(builder, unit);
  const millimetres = MILLIMETRES[unit];
  const origin = addAxisPlacement(builder, IDENTITY, millimetres);
  return {
    builder,
    productContexts: [productContext],
    definitionContext,
    context,
    millimetres,
    origin,
    application,
    shared: new Map(),
  };
}

/**
 * Writes an assembly as ISO 10303-242 with external references: one product for the assembly, one for each component
 * as a stand-in, a usage occurrence for each placing, and a DOCUMENT_FILE for each external file.
 */
export function writeAssembly(assembly: AssemblyToWrite): Uint8Array {
  const { unit = 'mm', referenceForm = 'identification', placementForm = 'pair' } = assembly;
  const builder = new Part21Builder();
  const add = builder.add.bind(builder);

  // 1. Contexts and units, and the assembly's own product.
  const frame = addFrame(builder, unit);
  const { origin, context } = frame;
  const top = addProduct(frame, assembly.id, assembly.name);
  const documentType = add('DOCUMENT_TYPE', 'configuration controlled document version');

  // 2. Components: stand-in product, reference, placings.
  const items = new Set<Reference>([origin]);
  const pending: ((assemblyShape: Reference) => void)[] = [];
  for (const component of assembly.components) {
    const placed =
      'addPart' in component
        ? component.addPart(builder)
        : addStandIn(frame, component, documentType, referenceForm);
    for (const [n, placing] of component.placings.entries()) {
      const id = `${component.id}.${n + 1}`;
      const { item, finish } = addOccurrence(
        frame,
        top.definition,
        placed,
        { id, ...placing },
        placementForm,
      );
      items.add(item);
      pending.push(finish);
    }
  }

  // 3. The assembly's own representation holds every placement.
  const assemblyShape = add('SHAPE_REPRESENTATION', assembly.name, [...items], context);
  add('SHAPE_DEFINITION_REPRESENTATION', top.shape, assemblyShape);
  for (const finish of pending) finish(assemblyShape);
  assembly.also?.(builder, top.definition);
  return builder.finish({
    name: assembly.fileName,
    timeStamp: assembly.timeStamp,
    originatingSystem: assembly.originatingSystem ?? 'Stone Tray',
    schema: assembly.schema ?? AP242,
  });
}
