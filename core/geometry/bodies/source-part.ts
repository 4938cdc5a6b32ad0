import { unpackedStep } from '#core/files/archive/packed-step';
import { closurePositions } from '#core/files/part21/closure';
import { Part21Error } from '#core/files/part21/errors';
import { Part21File } from '#core/files/part21/file';
import { numberOf, referencesOf } from '#core/files/part21/parameters';
import { append } from '#core/multimap';
import { type Body, type Product, readStructure } from '#core/product/structure';
import { lengthUnitOfContext } from '#core/product/units';
import { Refusal } from '#core/refusal';
import { placedBodies, type SplitScope } from './placed-bodies';

/** Entities that list geometric items of many bodies, and where: a body's file keeps its own share of each. */
const ITEM_LISTS: readonly [keyword: string, position: number][] = [
  ['MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION', 1],
  ['DRAUGHTING_MODEL', 1],
  ['PRESENTATION_LAYER_ASSIGNMENT', 2],
  ['INVISIBILITY', 0],
];

/** An entity that lists items, with the items that belong to one body. */
export interface ItemList {
  id: number;
  position: number;
  items: number[];
}

/** Everything that one body needs of the source's text. */
export interface BodyText {
  body: Body;
  /** The representation that holds the body. */
  representation: number;
  /** Its context: units and uncertainty. */
  context: number;
  /** Instances of the geometry, with the context's, as positions in the file's index. */
  geometry: Uint32Array;
  /** Styled items of the body, its faces and its edges. */
  styles: number[];
  lists: ItemList[];
}

/** The contexts of a product (ISO 10303-41), and everything that they need. */
interface ProductContexts {
  definitionContext: number | undefined;
  productContexts: number[];
  /** Positions in the file's index, in order. */
  contextPositions: Uint32Array;
}

/** Reads a file; what is wrong with it begins with its name. @throws Refusal */
function readNamed(path: string, bytes: Uint8Array): Part21File {
  try {
    return Part21File.read(unpackedStep(bytes));
  } catch (error) {
    throw error instanceof Part21Error ? new Refusal(`${path}: ${error.message}`) : error;
  }
}

/**
 * A file of several bodies, ready to be taken apart: a part, or an assembly whose parts lie in the file itself. Reading it costs
 * one pass over its styles and lists.
 */
export class SourcePart {
  readonly file: Part21File;
  /** What is taken apart, and where its bodies stand. */
  readonly scope: SplitScope;
  readonly product: Product;
  /** All bodies of the scope as often as they are placed, solids first. */
  readonly bodies: readonly Body[];
  private readonly representationOf = new Map<number, number>();
  private readonly stylesOf = new Map<number, number[]>();
  /** By position in the index: whether an instance has a style or stands in a list. */
  private readonly isShown: Uint8Array;
  private readonly listsOf = new Map<number, { id: number; position: number }[]>();

  /**
   * @param product id or name of the one product that is taken apart, with all below it; null for the whole file
   * @throws Refusal for a broken file, one without bodies, and one without this product
   */
  constructor(
    readonly path: string,
    bytes: Uint8Array,
    product: string | null = null,
  ) {
    this.file = readNamed(path, bytes);
    this.scope = placedBodies(path, readStructure(this.file).products, product);
    ({ product: this.product, bodies: this.bodies } = this.scope);
    this.readRepresentations();
    this.readStyles();
    this.readLists();
    this.isShown = new Uint8Array(this.file.index.count);
    for (const id of [...this.stylesOf.keys(), ...this.listsOf.keys()]) {
      const position = this.file.position(id);
      if (position !== undefined) this.isShown[position] = 1;
    }
  }

  /** What the file says about its own accuracy, mm; 0 when it says nothing. */
  get uncertainty(): number {
    const contexts = new Set([...this.representationOf.values()].map((id) => this.file.referenceOf(id, 2)));
    let largest = 0;
    for (const context of contexts) {
      if (context === undefined) continue;
      const millimetres = lengthUnitOfContext(this.file, context)?.millimetres ?? 1;
      for (const id of referencesOf(this.file.entity(context, 'GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT')?.[0]))
        largest = Math.max(largest, (numberOf(this.file.parameters(id)?.[0]) ?? 0) * millimetres);
    }
    return largest;
  }

  private knownContexts: ProductContexts | undefined;

  /** What the products of new files take over from the source's own. */
  get contexts(): ProductContexts {
    this.knownContexts ??= this.readContexts();
    return this.knownContexts;
  }

  private readContexts(): ProductContexts {
    const { file, product } = this;
    const original = file.referenceOf(file.referenceOf(product.definition, 2), 2);
    const definitionContext = file.referenceOf(product.definition, 3);
    const productContexts = file.referencesOf(original, 3);
    const contexts = closurePositions(file, [
      ...productContexts,
      ...(definitionContext === undefined ? [] : [definitionContext]),
    ]);
    const protocols = file.idsOfType('APPLICATION_PROTOCOL_DEFINITION').flatMap((id) => {
      const context = file.position(file.referenceOf(id, 3) ?? -1);
      return context !== undefined && contexts.includes(context) ? [file.position(id)!] : [];
    });
    const contextPositions = Uint32Array.from([...contexts, ...protocols]).sort();
    return { definitionContext, productContexts, contextPositions };
  }

  private readonly contextClosures = new Map<number, Uint32Array>();

  /** What a representation context needs: units and uncertainty, which all bodies in it share. */
  private closureOf(context: number): Uint32Array {
    let closure = this.contextClosures.get(context);
    if (!closure) {
      closure = closurePositions(this.file, [context]);
      this.contextClosures.set(context, closure);
    }
    return closure;
  }

  /** Whether an instance, by its position in the index, belongs to a representation context: units and uncertainty. */
  isContext(context: number, position: number): boolean {
    return this.closureOf(context).includes(position);
  }

  /** What one body needs. Cost grows with the text of the body. */
  textOf(body: Body): BodyText {
    const representation = this.representationOf.get(body.id);
    const context = this.file.referenceOf(representation, 2);
    if (representation === undefined || context === undefined)
      throw new Refusal(`${this.path}: body #${body.id} is in no representation with a context.`);
    const geometry = closurePositions(this.file, [body.id], undefined, this.closureOf(context));
    const styles: number[] = [];
    const lists = new Map<number, ItemList>();
    const share = (item: number) => {
      for (const { id, position } of this.listsOf.get(item) ?? []) {
        const list = lists.get(id) ?? { id, position, items: [] };
        list.items.push(item);
        lists.set(id, list);
      }
    };
    const { ids } = this.file.index;
    for (const position of geometry) {
      if (!this.isShown[position]) continue;
      const id = ids[position]!;
      share(id);
      for (const style of this.stylesOf.get(id) ?? []) {
        styles.push(style);
        share(style);
      }
    }
    return { body, representation, context, geometry, styles, lists: [...lists.values()] };
  }

  private readRepresentations(): void {
    const wanted = new Set(this.bodies.map(({ id }) => id));
    for (const keyword of new Set(this.file.index.keywords)) {
      if (!keyword.endsWith('REPRESENTATION') || ITEM_LISTS.some(([listed]) => listed === keyword)) continue;
      for (const id of this.file.idsOfType(keyword))
        for (const item of this.file.referencesOf(id, 1))
          if (wanted.has(item) && !this.representationOf.has(item)) this.representationOf.set(item, id);
    }
  }

  private readStyles(): void {
    for (const keyword of ['STYLED_ITEM', 'OVER_RIDING_STYLED_ITEM']) {
      for (const id of this.file.idsOfType(keyword)) {
        const item = this.file.referenceOf(id, 2);
        if (item !== undefined) append(this.stylesOf, item, id);
      }
    }
  }

  private readLists(): void {
    for (const [keyword, position] of ITEM_LISTS) {
      for (const id of this.file.idsOfType(keyword))
        for (const item of referencesOf(this.file.parameters(id)?.[position]))
          append(this.listsOf, item, { id, position });
    }
  }
}
