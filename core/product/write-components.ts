import { type Reference, Typed } from '#core/files/part21/parameters';
import type { Part21Builder } from '#core/files/part21/write';
import type { Matrix4 } from './matrix';
import { addAxisPlacement } from './write-geometry';

/** A component that an assembly file places: its shape lies in another file, or is added to this one. */
export type ComponentToWrite = {
  id: string;
  name: string;
  placings: { name: string; placement: Matrix4 }[];
} & ({ /** The path as it shall stand in the file. */ written: string } | { addPart: AddPart });

/** Adds a part to the file that is being built. */
export type AddPart = (builder: Part21Builder) => Placed;

/** Where the path is written. All forms are met in files from the field; readers have to know them all. */
export type ReferenceForm =
  | 'identification'
  | 'document id'
  | 'source'
  | 'folder and name'
  | 'document'
  | 'associated';

/** How a placement is written: a pair of axis placements, the same pair the other way round, or a mapped item. */
export type PlacementForm = 'pair' | 'swapped pair' | 'mapped item';

/** What every product of a file shares: contexts, the geometry's units, the origin as an axis placement. */
export interface Frame {
  builder: Part21Builder;
  productContexts: Reference[];
  definitionContext: Reference | null;
  /** Representation context. */
  context: Reference;
  /** How many millimetres its unit is. */
  millimetres: number;
  origin: Reference;
  /** APPLICATION_CONTEXT, for documents that are products of their own. */
  application?: Reference;
  /** What is written once for all components: placements, by their numbers, and what all references to files need. */
  shared: Map<string, Reference>;
}

/** Places a shape within another one, without a product of its own. @returns MAPPED_ITEMs */
export function addMapped(
  { builder, millimetres }: Frame,
  { origin, representation }: Pick<Placed, 'origin' | 'representation'>,
  placements: readonly Matrix4[],
): Reference[] {
  const map = builder.add('REPRESENTATION_MAP', origin, representation);
  return placements.map((placement) =>
    builder.add('MAPPED_ITEM', '', map, addAxisPlacement(builder, placement, millimetres)),
  );
}

/** A product that can be placed. */
export interface Placed {
  /** PRODUCT_DEFINITION. */
  definition: Reference;
  representation: Reference;
  /** The axis placement that is set down where the product goes; an item of its representation, as readers expect. */
  origin: Reference;
}

export function addProduct(
  {
    builder,
    productContexts,
    definitionContext,
  }: Pick<Frame, 'builder' | 'productContexts' | 'definitionContext'>,
  id: string,
  name: string,
  documents?: Reference[],
): { definition: Reference; shape: Reference } {
  const add = builder.add.bind(builder);
  const product = add('PRODUCT', id, name, '', productContexts);
  add('PRODUCT_RELATED_PRODUCT_CATEGORY', 'part', '', [product]);
  const formation = add('PRODUCT_DEFINITION_FORMATION', '', '', product);
  const definition = documents
    ? add(
        'PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS',
        'design',
        '',
        formation,
        definitionContext,
        documents,
      )
    : add('PRODUCT_DEFINITION', 'design', '', formation, definitionContext);
  return { definition, shape: add('PRODUCT_DEFINITION_SHAPE', '', '', definition) };
}

/** Adds the product that stands for an external file, with the reference to that file. */
export function addStandIn(
  frame: Frame,
  component: { id: string; name: string; written: string },
  documentType: Reference,
  referenceForm: ReferenceForm = 'identification',
): Placed {
  const { builder, productContexts, context, origin } = frame;
  const add = builder.add.bind(builder);
  const document = addDocument(frame, documentType, component.written, referenceForm);
  const { definition, shape } = addProduct(
    frame,
    component.id,
    component.name,
    referenceForm === 'associated' ? [document] : undefined,
  );
  const representation = add('SHAPE_REPRESENTATION', component.name, [origin], context);
  add('SHAPE_DEFINITION_REPRESENTATION', shape, representation);
  if (referenceForm === 'document') {
    const whole = add('DOCUMENT', component.written, '', '', documentType);
    const documentProduct = add('PRODUCT', `document of ${component.id}`, '', '', productContexts);
    const formation = add('PRODUCT_DEFINITION_FORMATION', '', '', documentProduct);
    const documentContext = add(
      'PRODUCT_DEFINITION_CONTEXT',
      'digital document definition',
      frame.application ?? null,
      '',
    );
    add('PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS', '', '', formation, documentContext, [document]);
    add('DOCUMENT_PRODUCT_EQUIVALENCE', 'equivalence', '', whole, formation);
    add('APPLIED_DOCUMENT_REFERENCE', whole, '', [definition]);
  } else if (referenceForm !== 'associated') add('APPLIED_DOCUMENT_REFERENCE', document, '', [definition]);
  return { definition, representation, origin };
}

/**
 * Adds one placing of a component in an assembly.
 * @returns the item for the assembly's representation, and what is to be added once that is there
 */
export function addOccurrence(
  frame: Frame,
  assembly: Reference,
  component: Placed,
  { id, name, placement }: { id: string; name: string; placement: Matrix4 },
  form: PlacementForm = 'pair',
): { item: Reference; finish(assemblyShape: Reference): void } {
  const { builder, millimetres } = frame;
  const { origin } = component;
  const add = builder.add.bind(builder);
  const usage = add(
    'NEXT_ASSEMBLY_USAGE_OCCURRENCE',
    id,
    name,
    // Empty: many readers show a description in the place of the name.
    '',
    assembly,
    component.definition,
    null,
  );
  const usageShape = add('PRODUCT_DEFINITION_SHAPE', '', '', usage);
  const target = once(frame, placement.join(' '), () => addAxisPlacement(builder, placement, millimetres));
  if (form === 'mapped item') {
    const map = add('REPRESENTATION_MAP', origin, component.representation);
    return { item: add('MAPPED_ITEM', '', map, target), finish: () => {} };
  }
  const finish = (assemblyShape: Reference) => {
    const pair = form === 'pair' ? [origin, target] : [target, origin];
    const operator = add('ITEM_DEFINED_TRANSFORMATION', '', '', ...pair);
    const representations =
      form === 'pair' ? [component.representation, assemblyShape] : [assemblyShape, component.representation];
    const relationship = builder.addComplex(
      { keyword: 'REPRESENTATION_RELATIONSHIP', parameters: ['', '', ...representations] },
      { keyword: 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION', parameters: [operator] },
      { keyword: 'SHAPE_REPRESENTATION_RELATIONSHIP', parameters: [] },
    );
    add('CONTEXT_DEPENDENT_SHAPE_REPRESENTATION', relationship, usageShape);
  };
  return { item: target, finish };
}

/** Adds something unless it is there already. */
function once({ shared }: Pick<Frame, 'shared'>, key: string, add: () => Reference): Reference {
  let reference = shared.get(key);
  if (!reference) {
    reference = add();
    shared.set(key, reference);
  }
  return reference;
}

/** Adds what names a file as a document: nothing refers to it yet. */
export function addDocument(
  frame: Pick<Frame, 'builder' | 'shared'>,
  type: Reference,
  written: string,
  form: ReferenceForm,
): Reference {
  const { builder } = frame;
  const name = written.slice(Math.max(written.lastIndexOf('/'), written.lastIndexOf('\\')) + 1);
  const folder = written.slice(0, written.length - name.length);
  const id = form === 'source' ? '' : form === 'folder and name' ? name : form === 'document' ? '' : written;
  const document = builder.add('DOCUMENT_FILE', id, '', null, type, '', null);
  if (form === 'document id' || form === 'associated') return document;
  const role = once(frame, 'role', () =>
    builder.add('IDENTIFICATION_ROLE', 'external document id and location', null),
  );
  const source = form === 'source' ? written : form === 'folder and name' ? folder : '';
  const addSource = () => builder.add('EXTERNAL_SOURCE', new Typed('IDENTIFIER', source));
  // One that holds a part of the path is the link's own: repairing one link must not touch another.
  const external = source === '' ? once(frame, 'no source', addSource) : addSource();
  const assigned = form === 'source' ? '' : form === 'folder and name' ? name : written;
  builder.add('APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT', assigned, role, external, [document]);
  return document;
}
