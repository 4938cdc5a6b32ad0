import { DERIVED, Enumeration, type Parameter, Real, type Reference, Typed } from '#core/part21/parameters';
import { Part21Builder } from '#core/part21/write';
import type { Matrix4 } from './matrix';

/** A component that an assembly file places: its shape lies in another file, or is added to this one. */
export type ComponentToWrite = {
  id: string;
  name: string;
  placings: { name: string; placement: Matrix4; description?: string }[];
} & ({ /** The path as it shall stand in the file. */ written: string } | { addPart: AddPart });

/** Adds a part to the file that is being built. @returns its PRODUCT_DEFINITION and its representation */
export type AddPart = (builder: Part21Builder) => { definition: Reference; representation: Reference };

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

/**
 * Writes an assembly as ISO 10303-242 with external references: one product for the assembly, one for each component
 * as a stand-in, a usage occurrence for each placing, and a DOCUMENT_FILE for each external file.
 */
export function writeAssembly(assembly: AssemblyToWrite): Uint8Array {
  const { unit = 'mm', referenceForm = 'identification', placementForm = 'pair' } = assembly;
  const builder = new Part21Builder();
  const add = builder.add.bind(builder);

  // 1. Contexts and units.
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

  // 2. Products with their shapes.
  const millimetres = MILLIMETRES[unit];
  const axis = (placement: Matrix4) => addAxisPlacement(builder, placement, millimetres);
  const origin = axis([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]);
  const addProduct = (id: string, name: string, documents?: Reference[]) => {
    const product = add('PRODUCT', id, name, '', [productContext]);
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
  };
  const top = addProduct(assembly.id, assembly.name);
  const documentType = add('DOCUMENT_TYPE', 'configuration controlled document version');

  // 3. Components: stand-in product, reference, placings.
  const items: Parameter[] = [origin];
  const pending: ((assemblyShape: Reference) => void)[] = [];
  const addStandIn = (component: ComponentToWrite & { written: string }) => {
    const document = addDocument(builder, documentType, component.written, referenceForm);
    const { definition, shape } = addProduct(
      component.id,
      component.name,
      referenceForm === 'associated' ? [document] : undefined,
    );
    const componentShape = add('SHAPE_REPRESENTATION', component.name, [origin], context);
    add('SHAPE_DEFINITION_REPRESENTATION', shape, componentShape);
    if (referenceForm === 'document') {
      const whole = add('DOCUMENT', component.written, '', '', documentType);
      const documentProduct = add('PRODUCT', `document of ${component.id}`, '', '', [productContext]);
      const formation = add('PRODUCT_DEFINITION_FORMATION', '', '', documentProduct);
      const documentContext = add(
        'PRODUCT_DEFINITION_CONTEXT',
        'digital document definition',
        application,
        '',
      );
      add('PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS', '', '', formation, documentContext, [document]);
      add('DOCUMENT_PRODUCT_EQUIVALENCE', 'equivalence', '', whole, formation);
      add('APPLIED_DOCUMENT_REFERENCE', whole, '', [definition]);
    } else if (referenceForm !== 'associated') add('APPLIED_DOCUMENT_REFERENCE', document, '', [definition]);
    return { definition, representation: componentShape };
  };
  for (const component of assembly.components) {
    const { definition, representation: componentShape } =
      'addPart' in component ? component.addPart(builder) : addStandIn(component);
    for (const [n, { name, placement, description = '' }] of component.placings.entries()) {
      const usage = add(
        'NEXT_ASSEMBLY_USAGE_OCCURRENCE',
        `${component.id}.${n + 1}`,
        name,
        description,
        top.definition,
        definition,
        null,
      );
      const usageShape = add('PRODUCT_DEFINITION_SHAPE', '', '', usage);
      const target = axis(placement);
      if (placementForm === 'mapped item') {
        const map = add('REPRESENTATION_MAP', origin, componentShape);
        items.push(add('MAPPED_ITEM', '', map, target));
        continue;
      }
      items.push(target);
      pending.push((assemblyShape) => {
        const pair = placementForm === 'pair' ? [origin, target] : [target, origin];
        const operator = add('ITEM_DEFINED_TRANSFORMATION', '', '', ...pair);
        const representations =
          placementForm === 'pair' ? [componentShape, assemblyShape] : [assemblyShape, componentShape];
        const relationship = builder.addComplex(
          { keyword: 'REPRESENTATION_RELATIONSHIP', parameters: ['', '', ...representations] },
          { keyword: 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION', parameters: [operator] },
          { keyword: 'SHAPE_REPRESENTATION_RELATIONSHIP', parameters: [] },
        );
        add('CONTEXT_DEPENDENT_SHAPE_REPRESENTATION', relationship, usageShape);
      });
    }
  }

  // 4. The assembly's own representation holds every placement.
  const assemblyShape = add('SHAPE_REPRESENTATION', assembly.name, items, context);
  add('SHAPE_DEFINITION_REPRESENTATION', top.shape, assemblyShape);
  for (const finish of pending) finish(assemblyShape);
  assembly.also?.(builder, top.definition);
  return builder.finish({
    name: assembly.fileName,
    timeStamp: assembly.timeStamp,
    originatingSystem: assembly.originatingSystem ?? 'Stone Tray',
    schema: assembly.schema ?? 'AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF { 1 0 10303 442 1 1 4 }',
  });
}

/** A representation context with a length unit, radians, and an uncertainty of a thousandth of a millimetre. */
export function addGeometryContext(builder: Part21Builder, unit: 'mm' | 'm' | 'in'): Reference {
  const si = (prefix: string | null, name: string, kind: string) =>
    builder.addComplex(
      { keyword: kind, parameters: [] },
      { keyword: 'NAMED_UNIT', parameters: [DERIVED] },
      { keyword: 'SI_UNIT', parameters: [prefix ? new Enumeration(prefix) : null, new Enumeration(name)] },
    );
  let length = si(unit === 'm' ? null : 'MILLI', 'METRE', 'LENGTH_UNIT');
  if (unit === 'in') {
    const dimensions = builder.add(
      'DIMENSIONAL_EXPONENTS',
      ...[1, 0, 0, 0, 0, 0, 0].map((exponent) => new Real(exponent)),
    );
    const measure = builder.addComplex({
      keyword: 'LENGTH_MEASURE_WITH_UNIT',
      parameters: [lengthMeasure(25.4), length],
    });
    length = builder.addComplex(
      { keyword: 'CONVERSION_BASED_UNIT', parameters: ['INCH', measure] },
      { keyword: 'LENGTH_UNIT', parameters: [] },
      { keyword: 'NAMED_UNIT', parameters: [dimensions] },
    );
  }
  const angle = si(null, 'RADIAN', 'PLANE_ANGLE_UNIT');
  const solidAngle = si(null, 'STERADIAN', 'SOLID_ANGLE_UNIT');
  const uncertainty = builder.add(
    'UNCERTAINTY_MEASURE_WITH_UNIT',
    lengthMeasure(0.001 / MILLIMETRES[unit]),
    length,
    'distance_accuracy_value',
    'edge curve and vertex point accuracy',
  );
  return builder.addComplex(
    { keyword: 'GEOMETRIC_REPRESENTATION_CONTEXT', parameters: [3] },
    { keyword: 'GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT', parameters: [[uncertainty]] },
    { keyword: 'GLOBAL_UNIT_ASSIGNED_CONTEXT', parameters: [[length, angle, solidAngle]] },
    { keyword: 'REPRESENTATION_CONTEXT', parameters: ['', '3D'] },
  );
}

/** Writes a placement given in millimetres as AXIS2_PLACEMENT_3D in the file's unit. */
export function addAxisPlacement(builder: Part21Builder, m: Matrix4, millimetres: number): Reference {
  const real = (values: number[]) => values.map((value) => new Real(value));
  const point = builder.add(
    'CARTESIAN_POINT',
    '',
    real([m[3]! / millimetres, m[7]! / millimetres, m[11]! / millimetres]),
  );
  const z = builder.add('DIRECTION', '', real([m[2]!, m[6]!, m[10]!]));
  const x = builder.add('DIRECTION', '', real([m[0]!, m[4]!, m[8]!]));
  return builder.add('AXIS2_PLACEMENT_3D', '', point, z, x);
}

function lengthMeasure(value: number): Parameter {
  return new Typed('LENGTH_MEASURE', new Real(value));
}

function addDocument(
  builder: Part21Builder,
  type: Reference,
  written: string,
  form: ReferenceForm,
): Reference {
  const name = written.slice(Math.max(written.lastIndexOf('/'), written.lastIndexOf('\\')) + 1);
  const folder = written.slice(0, written.length - name.length);
  const id = form === 'source' ? '' : form === 'folder and name' ? name : form === 'document' ? '' : written;
  const document = builder.add('DOCUMENT_FILE', id, '', null, type, '', null);
  if (form === 'document id' || form === 'associated') return document;
  const role = builder.add('IDENTIFICATION_ROLE', 'external document id and location', null);
  const source = form === 'source' ? written : form === 'folder and name' ? folder : '';
  const external = builder.add('EXTERNAL_SOURCE', new Typed('IDENTIFIER', source));
  const assigned = form === 'source' ? '' : form === 'folder and name' ? name : written;
  builder.add('APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT', assigned, role, external, [document]);
  return document;
}
