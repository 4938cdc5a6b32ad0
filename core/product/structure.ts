import type { Part21File } from '#core/files/part21/file';
import { Enumeration, referenceOf, referencesOf, textOf } from '#core/files/part21/parameters';
import { append } from '#core/multimap';
import type { Appearance, Colour } from './appearance';
import { readColours } from './colours';
import { facesOf, shellsOf } from './faces';
import { IDENTITY, invertRigid, isIdentity, type Matrix4, multiply } from './matrix';
import { axisPlacement, mappedPlacement } from './placements';
import { type StatedProperty, statedFacts } from './properties';
import type { StatedSize } from './stated-size';
import { transformationOf } from './transformations';
import { type LengthUnit, lengthUnitOfContext, MILLIMETRE } from './units';

export type BodyKind = 'solid' | 'surface';

/** One connected shape of a part. */
export interface Body extends Appearance {
  /** The number of its entity in the file, which the geometry kernel knows too. */
  id: number;
  kind: BodyKind;
  name: string;
  /** Where the part places it; left out when it stays where it was modelled. */
  placement?: Matrix4;
}

/** One placing of a product in another, inside one file. */
export interface Occurrence {
  /** Number of the NEXT_ASSEMBLY_USAGE_OCCURRENCE, or of the MAPPED_ITEM where there is none. */
  id: number;
  /** Its product's where the file gives none that says anything to a person. */
  name: string;
  /** PRODUCT_DEFINITION of the placed product. */
  child: number;
  placement: Matrix4;
  /** The MAPPED_ITEM that places it, where one does. */
  item?: number;
}

/** What kernels and translators write where nobody gave an occurrence a name: a label's path, the entity's own name with a number, a bare number. */
const USELESS =
  /^(=>)?\s*\[[\d:]+\]$|^(nauo|next_?assembly_?usage(_?occurrence)?|component_?definition|mapped_?item|occurrence|instance)?[\s_.:#-]*\d*$/i;

/** The name of an occurrence, '' where it says nothing to a person. @example usefulName('NAUO12') // '' */
export function usefulName(written: string | undefined): string {
  const name = written?.trim() ?? '';
  return USELESS.test(name) ? '' : name;
}

/** What a part is for the bill of materials (ISO 10303-41 source; -44 make_or_buy). */
export type Use = 'made' | 'bought' | 'reference';

/** A product definition: a part or an assembly, as one file describes it. */
export interface Product {
  /** Number of the PRODUCT_DEFINITION. */
  definition: number;
  id: string;
  name: string;
  bodies: Body[];
  occurrences: Occurrence[];
  /** Name of its material (ISO 10303-45, material_designation); left out when the file names none. */
  material?: string;
  /** Of its material, kg/m³; left out when the file does not say. */
  density?: number;
  /** What else the file says of it, in words and measures; left out where it says nothing. */
  properties?: StatedProperty[];
  /** Left out when the file does not say. */
  use?: Use;
  /** It has neither bodies nor components, nor curves, points or anything else to be seen. */
  isEmpty?: boolean;
  /** Left out when the file does not say. */
  statedSize?: StatedSize;
}

/** The product structure of one file. Documents that the file describes as products are not in it. */
export interface FileStructure {
  unit: string | null;
  products: Product[];
}

const BODY_KINDS: { [entity: string]: BodyKind } = {
  MANIFOLD_SOLID_BREP: 'solid',
  BREP_WITH_VOIDS: 'solid',
  FACETED_BREP: 'solid',
  SHELL_BASED_SURFACE_MODEL: 'surface',
};

/** What kind of body an entity is; undefined for what is none. */
export function bodyKindOf(keyword: string): BodyKind | undefined {
  return BODY_KINDS[keyword];
}

const NO_PRODUCTS: ReadonlySet<number> = new Set();
const FACES = new Set(['ADVANCED_FACE', 'FACE_SURFACE', 'ORIENTED_FACE']);

/**
 * Reads products, occurrences, placements and bodies of one file (ISO 10303-41, -43, -44).
 * Only entities of the product structure are parsed, so cost grows with products, occurrences and styled items; of
 * the geometry below a body at most the lists of faces are read, where single faces are styled.
 */
export function readStructure(file: Part21File): FileStructure {
  return new StructureReader(file).read();
}

class StructureReader {
  /** Representations that a product definition owns through SHAPE_DEFINITION_REPRESENTATION. */
  private readonly shapesOf = new Map<number, number[]>();
  private readonly ownerOf = new Map<number, number>();
  private readonly related = new Map<number, { to: number; placement: Matrix4 }[]>();
  private readonly units = new Map<number, LengthUnit>();
  private readonly colours: Map<number, Colour>;
  private styledFaces: boolean | undefined;
  /** Products by the name of their category, in lower case. */
  private categories: Map<string, Set<number>> | undefined;
  /** PRODUCT_DEFINITIONs with something to be seen that is no body. */
  private readonly shown = new Set<number>();

  constructor(private readonly file: Part21File) {
    this.colours = readColours(file);
  }

  read(): FileStructure {
    const definitions = this.readDefinitions();
    this.readShapes();
    const placed = this.readUsages(definitions);
    this.readRelatedShapes(placed.relationships);
    const products = [...definitions.values()];
    for (const product of products) this.readBodies(product);
    this.readMappedOccurrences(definitions, placed.unplaced);
    this.readMaterials(definitions);
    this.readRawMaterials(definitions);
    for (const [definition, { size, material, density, properties }] of statedFacts(this.file)) {
      const product = definitions.get(definition);
      if (!product) continue;
      if (size) product.statedSize = size;
      if (material !== undefined) product.material ??= material;
      if (density !== undefined) product.density = density;
      if (properties) product.properties = properties;
    }
    nameOccurrences(definitions);
    for (const product of products)
      if (
        product.bodies.length === 0 &&
        product.occurrences.length === 0 &&
        !this.shown.has(product.definition)
      )
        product.isEmpty = true;
    return { unit: this.unitOfFile(products), products: [...definitions.values()] };
  }

  /** 1. PRODUCT_DEFINITION -> formation -> PRODUCT, without those that stand for documents. */
  private readDefinitions(): Map<number, Product> {
    const { file } = this;
    const documents = new Set<number | undefined>();
    for (const id of file.idsOfType('DOCUMENT_PRODUCT_EQUIVALENCE'))
      documents.add(referenceOf(file.entity(id, 'DOCUMENT_PRODUCT_EQUIVALENCE')?.[3]));
    const definitions = new Map<number, Product>();
    for (const keyword of ['PRODUCT_DEFINITION', 'PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS']) {
      for (const definition of file.idsOfType(keyword)) {
        const parameters = file.entity(definition, keyword)!;
        const formation = referenceOf(parameters[2]);
        const context = textOf(file.parameters(referenceOf(parameters[3]))?.[0]) ?? '';
        const product = referenceOf(file.parameters(formation)?.[2]);
        if (
          documents.has(formation) ||
          documents.has(definition) ||
          documents.has(product) ||
          /document/i.test(context)
        )
          continue;
        const [id, name] = (file.entity(product, 'PRODUCT') ?? []).map(textOf);
        const use = this.statedUse(formation, product);
        definitions.set(definition, {
          definition,
          id: id ?? '',
          name: name || id || `#${definition}`,
          bodies: [],
          occurrences: [],
          ...(use && { use }),
        });
      }
    }
    return definitions;
  }

  private statedUse(formation: number | undefined, product: number | undefined): Use | undefined {
    const { file } = this;
    if (product !== undefined && this.productsOfCategory('reference').has(product)) return 'reference';
    const source = file.entity(formation, 'PRODUCT_DEFINITION_FORMATION_WITH_SPECIFIED_SOURCE')?.[3];
    if (!(source instanceof Enumeration)) return undefined;
    return ({ MADE: 'made', BOUGHT: 'bought' } as { [name: string]: Use | undefined })[source.name];
  }

  private productsOfCategory(name: string): ReadonlySet<number> {
    if (!this.categories) {
      this.categories = new Map();
      for (const id of this.file.idsOfType('PRODUCT_RELATED_PRODUCT_CATEGORY')) {
        const category = this.file.stringOf(id, 0)?.text ?? '';
        // Nearly all are parts, which says nothing.
        if (category === 'part' || category === 'detail') continue;
        const key = category.toLowerCase().replaceAll('_', ' ');
        const products = this.categories.get(key) ?? new Set();
        this.categories.set(key, products);
        for (const product of this.file.referencesOf(id, 2)) products.add(product);
      }
    }
    return this.categories.get(name) ?? NO_PRODUCTS;
  }

  /** 2. PRODUCT_DEFINITION_SHAPE + SHAPE_DEFINITION_REPRESENTATION: which representations belong to which product. */
  private readShapes(): void {
    const { file } = this;
    for (const id of file.idsOfType('SHAPE_DEFINITION_REPRESENTATION')) {
      const parameters = file.entity(id, 'SHAPE_DEFINITION_REPRESENTATION')!;
      const definition = referenceOf(
        file.entity(referenceOf(parameters[0]), 'PRODUCT_DEFINITION_SHAPE')?.[2],
      );
      const representation = referenceOf(parameters[1]);
      if (definition === undefined || representation === undefined) continue;
      append(this.shapesOf, definition, representation);
      this.ownerOf.set(representation, definition);
    }
  }

  /** 3. NEXT_ASSEMBLY_USAGE_OCCURRENCE with its CONTEXT_DEPENDENT_SHAPE_REPRESENTATION. */
  private readUsages(definitions: Map<number, Product>): {
    relationships: Set<number>;
    unplaced: { parent: Product; occurrence: Occurrence }[];
  } {
    const { file } = this;
    const relationshipOf = new Map<number, number>();
    for (const id of file.idsOfType('CONTEXT_DEPENDENT_SHAPE_REPRESENTATION')) {
      const parameters = file.entity(id, 'CONTEXT_DEPENDENT_SHAPE_REPRESENTATION')!;
      const usage = referenceOf(file.entity(referenceOf(parameters[1]), 'PRODUCT_DEFINITION_SHAPE')?.[2]);
      const relationship = referenceOf(parameters[0]);
      if (usage !== undefined && relationship !== undefined) relationshipOf.set(usage, relationship);
    }
    const unplaced: { parent: Product; occurrence: Occurrence }[] = [];
    for (const id of file.idsOfType('NEXT_ASSEMBLY_USAGE_OCCURRENCE')) {
      const parameters = file.entity(id, 'NEXT_ASSEMBLY_USAGE_OCCURRENCE')!;
      const parent = definitions.get(referenceOf(parameters[3]) ?? -1);
      const child = referenceOf(parameters[4]);
      if (!parent || child === undefined || !definitions.has(child)) continue;
      const relationship = relationshipOf.get(id);
      const placement =
        relationship === undefined ? undefined : this.transformation(relationship, parent.definition);
      const occurrence = {
        id,
        name: usefulName(textOf(parameters[1])) || usefulName(textOf(parameters[5])),
        child,
        placement: placement ?? IDENTITY,
      };
      parent.occurrences.push(occurrence);
      if (!placement) unplaced.push({ parent, occurrence });
    }
    return { relationships: new Set(relationshipOf.values()), unplaced };
  }

  /** Placement of rep_1 in rep_2 or the other way round: the assembly's own is what the other one is placed in. */
  private transformation(relationship: number, parent: number | undefined): Matrix4 | undefined {
    const { file } = this;
    const found = transformationOf(file, relationship, (representation, item) =>
      this.hasItem(representation, item),
    );
    if (!found) return undefined;
    const { first, second, inFirst, inSecond } = found;
    const a = axisPlacement(file, inFirst, this.unitOf(first).millimetres);
    const b = axisPlacement(file, inSecond, this.unitOf(second).millimetres);
    if (!a || !b) return undefined;
    const assemblyIsFirst =
      parent !== undefined && this.ownerOf.get(first) === parent && this.ownerOf.get(second) !== parent;
    return assemblyIsFirst ? multiply(a, invertRigid(b)) : multiply(b, invertRigid(a));
  }

  /** 4. Representations joined to a product's own: the same shape in another form, or placed beside it. */
  private readRelatedShapes(ofOccurrences: Set<number>): void {
    const { file } = this;
    const all = [
      ...file.idsOfType('SHAPE_REPRESENTATION_RELATIONSHIP'),
      ...file.complexIdsWith('SHAPE_REPRESENTATION_RELATIONSHIP'),
    ];
    for (const id of all) {
      if (ofOccurrences.has(id)) continue;
      const pair =
        file.typeOf(id) === ''
          ? file.entity(id, 'REPRESENTATION_RELATIONSHIP')
          : file.entity(id, 'SHAPE_REPRESENTATION_RELATIONSHIP');
      const [first, second] = [referenceOf(pair?.[2]), referenceOf(pair?.[3])];
      if (first === undefined || second === undefined) continue;
      const placement = this.transformation(id, undefined) ?? IDENTITY;
      append(this.related, second, { to: first, placement });
      append(this.related, first, { to: second, placement: invertRigid(placement) });
    }
  }

  /** 5. Bodies in a product's representations, in those related to them, and in mapped ones that no product owns. */
  private readBodies(product: Product): void {
    const seen = new Set<number>(this.shapesOf.get(product.definition) ?? []);
    const queue = [...seen].map((representation) => ({ representation, placement: IDENTITY }));
    for (let next = queue.shift(); next; next = queue.shift()) {
      for (const item of this.itemsOf(next.representation)) {
        const type = this.file.typeOf(item) ?? '';
        if (BODY_KINDS[type]) product.bodies.push(this.body(item, BODY_KINDS[type], next.placement));
        else if (type !== 'AXIS2_PLACEMENT_3D' && type !== 'MAPPED_ITEM') this.shown.add(product.definition);
        else if (type === 'MAPPED_ITEM') {
          const map = this.mapping(item, next.representation);
          if (map && this.ownerOf.get(map.representation) === undefined && !seen.has(map.representation)) {
            this.readMappedBodies(product, map.representation, multiply(next.placement, map.placement), 0);
          }
        }
      }
      for (const { to, placement } of this.related.get(next.representation) ?? []) {
        const owner = this.ownerOf.get(to);
        if (seen.has(to) || (owner !== undefined && owner !== product.definition)) continue;
        seen.add(to);
        queue.push({ representation: to, placement: multiply(next.placement, placement) });
      }
    }
  }

  private readMappedBodies(
    product: Product,
    representation: number,
    placement: Matrix4,
    depth: number,
  ): void {
    if (depth > 20) return;
    for (const item of this.itemsOf(representation)) {
      const kind = BODY_KINDS[this.file.typeOf(item) ?? ''];
      if (kind) product.bodies.push(this.body(item, kind, placement));
      else if (this.file.typeOf(item) === 'MAPPED_ITEM') {
        const map = this.mapping(item, representation);
        if (map)
          this.readMappedBodies(product, map.representation, multiply(placement, map.placement), depth + 1);
      }
    }
  }

  /**
   * 6. Assemblies that place their components by MAPPED_ITEM: either there is a usage occurrence without a
   * transformation of its own, or nothing but the mapped item says that the component is there.
   */
  private readMappedOccurrences(
    definitions: Map<number, Product>,
    unplaced: { parent: Product; occurrence: Occurrence }[],
  ): void {
    for (const parent of definitions.values()) {
      const waiting = unplaced.filter((entry) => entry.parent === parent).map((entry) => entry.occurrence);
      const alreadyPlaced = new Set(
        parent.occurrences.filter((occurrence) => !waiting.includes(occurrence)).map(({ child }) => child),
      );
      for (const representation of this.shapesOf.get(parent.definition) ?? []) {
        for (const item of this.itemsOf(representation)) {
          if (this.file.typeOf(item) !== 'MAPPED_ITEM') continue;
          const map = this.mapping(item, representation);
          const child = map && this.ownerOf.get(map.representation);
          if (!map || child === undefined || child === parent.definition || !definitions.has(child)) continue;
          const at = waiting.findIndex((occurrence) => occurrence.child === child);
          if (at >= 0) Object.assign(waiting.splice(at, 1)[0]!, { placement: map.placement, item });
          else if (!alreadyPlaced.has(child)) {
            parent.occurrences.push({
              id: item,
              name: usefulName(textOf(this.file.parameters(item)?.[0])),
              child,
              placement: map.placement,
              item,
            });
          }
        }
      }
    }
  }

  /** 7. MATERIAL_DESIGNATION: what products are made of. */
  private readMaterials(definitions: Map<number, Product>): void {
    const { file } = this;
    for (const id of file.idsOfType('MATERIAL_DESIGNATION')) {
      const parameters = file.entity(id, 'MATERIAL_DESIGNATION')!;
      const name = textOf(parameters[0]);
      for (const definition of referencesOf(parameters[1])) {
        const product = definitions.get(definition);
        if (product && name) product.material = name;
      }
    }
  }

  /**
   * 8. What others are made of (ISO 10303-44, make_from_usage_option; category `raw material`) names their material. It is
   * no part, unless something places it.
   */
  private readRawMaterials(definitions: Map<number, Product>): void {
    const { file } = this;
    const raw = this.productsOfCategory('raw material');
    const materials = new Set<number>();
    if (raw.size > 0)
      for (const definition of definitions.keys())
        if (raw.has(file.referenceOf(file.referenceOf(definition, 2), 2) ?? -1)) materials.add(definition);
    for (const id of file.idsOfType('MAKE_FROM_USAGE_OPTION')) {
      const [made, from] = [file.referenceOf(id, 3) ?? -1, file.referenceOf(id, 4) ?? -1];
      const [product, material] = [definitions.get(made), definitions.get(from)];
      if (!product || !material || product === material) continue;
      product.material ??= material.name;
      materials.add(from);
    }
    if (materials.size === 0) return;
    for (const { occurrences } of definitions.values())
      for (const { child } of occurrences) materials.delete(child);
    for (const material of materials) definitions.delete(material);
  }

  private mapping(item: number, within: number): { representation: number; placement: Matrix4 } | undefined {
    const parameters = this.file.entity(item, 'MAPPED_ITEM');
    const map = this.file.entity(referenceOf(parameters?.[1]), 'REPRESENTATION_MAP');
    const representation = referenceOf(map?.[1]);
    if (representation === undefined) return undefined;
    const from = this.unitOf(representation).millimetres;
    return {
      representation,
      placement: mappedPlacement(
        this.file,
        referenceOf(map?.[0]),
        referenceOf(parameters?.[2]),
        from,
        this.unitOf(within).millimetres,
      ),
    };
  }

  private body(id: number, kind: BodyKind, placement: Matrix4): Body {
    const parameters = this.file.parameters(id);
    const body: Body = {
      id,
      kind,
      name: textOf(parameters?.[0]) ?? '',
      ...this.coloursOf(id, kind),
    };
    return isIdentity(placement) ? body : { ...body, placement };
  }

  /** A body's colour is its own, or its shell's, or what most of its faces have. */
  private coloursOf(id: number, kind: BodyKind): Appearance {
    const { file } = this;
    const own = this.colours.get(id) ?? this.colours.get(shellsOf(file, { id, kind })[0] ?? -1) ?? null;
    if (!this.hasStyledFaces()) return { colour: own };
    const groups = new Map<Colour | null, number[]>();
    const faces = facesOf(file, { id, kind });
    for (const [n, face] of faces.entries()) append(groups, this.colours.get(face) ?? own, n);
    const most = [...groups].sort((a, b) => b[1].length - a[1].length)[0]?.[0] ?? null;
    const colour = own ?? most;
    groups.delete(colour);
    if (groups.size === 0) return { colour };
    const others = [...groups].map(([other, at]) => ({ colour: other, faces: at }));
    return { colour, faceColours: { of: faces.length, others } };
  }

  private hasStyledFaces(): boolean {
    this.styledFaces ??= [...this.colours.keys()].some((id) => FACES.has(this.file.typeOf(id) ?? ''));
    return this.styledFaces;
  }

  private itemsOf(representation: number): number[] {
    return referencesOf(this.file.parameters(representation)?.[1]);
  }

  private hasItem(representation: number, item: number): boolean {
    return this.itemsOf(representation).includes(item);
  }

  private unitOf(representation: number): LengthUnit {
    const context = referenceOf(this.file.parameters(representation)?.[2]);
    if (context === undefined) return MILLIMETRE;
    let unit = this.units.get(context);
    if (!unit) {
      unit = lengthUnitOfContext(this.file, context) ?? MILLIMETRE;
      this.units.set(context, unit);
    }
    return unit;
  }

  private unitOfFile(products: Product[]): string | null {
    for (const product of products) {
      const representation = this.shapesOf.get(product.definition)?.[0];
      const context =
        representation === undefined ? undefined : referenceOf(this.file.parameters(representation)?.[2]);
      const unit = context === undefined ? undefined : lengthUnitOfContext(this.file, context);
      if (unit) return unit.name;
    }
    return null;
  }
}

/**
 * Occurrences without a useful name are called after their product. So are all of a file in which each has the same name, whatever it
 * places (`Next assembly relationship`): that is what some systems write into every one.
 */
function nameOccurrences(definitions: ReadonlyMap<number, Product>): void {
  const all = [...definitions.values()].flatMap(({ occurrences }) => occurrences);
  const [first] = all;
  const isSame = all.every(({ name }) => name === first?.name);
  const placesSeveral = all.some(({ child }) => child !== first?.child);
  for (const occurrence of all)
    if (occurrence.name === '' || (isSame && placesSeveral))
      occurrence.name = definitions.get(occurrence.child)?.name ?? '';
}

/** Products that no other product of the file places: what the file is about. */
export function rootProducts(products: readonly Product[]): Product[] {
  const placed = new Set(
    products.flatMap(({ definition, occurrences }) =>
      occurrences.map(({ child }) => (child === definition ? -1 : child)),
    ),
  );
  return products.filter(({ definition }) => !placed.has(definition));
}
