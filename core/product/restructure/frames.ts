import type { Part21File } from '#core/files/part21/file';
import { Reference } from '#core/files/part21/parameters';
import type { Part21Builder } from '#core/files/part21/write';
import { append } from '#core/multimap';
import { freeDesignation } from '#core/product/called';
import { IDENTITY, type Matrix4 } from '#core/product/matrix';
import { lengthUnitOfContext } from '#core/product/units';
import { addProduct, addStandIn } from '#core/product/write-components';
import { addAxisPlacement } from '#core/product/write-geometry';
import { Refusal } from '#core/refusal';
import { millimetresOf, type ProductHead } from './heads';

/** A product with the representation that is placed, and in which others are placed. */
export interface Frame {
  /** PRODUCT_DEFINITION. */
  definition: Reference;
  representation: Reference;
  /** How many millimetres its unit is. */
  millimetres: number;
}

/** A product that a file gets. */
export interface NewProduct {
  /** By this others name it while the file is changed. */
  key: string;
  id: string;
  name: string;
}

/** The products of a file as frames, those that are there and new ones; what is added to their representations. */
export class Frames {
  /** Items that representations of the file get, by their numbers. */
  readonly added = new Map<number, number[]>();
  private readonly anew = new Map<string, Frame & { items: Reference[]; origin?: Reference }>();
  private readonly known = new Map<number, Frame>();
  private readonly finishing: (() => void)[] = [];
  private documentType: Reference | undefined;
  private ids: Set<string> | undefined;

  constructor(
    private readonly file: Part21File,
    private readonly builder: Part21Builder,
    private readonly heads: ReadonlyMap<number, ProductHead>,
  ) {}

  /**
   * @param product number of a PRODUCT_DEFINITION, or the key of a new product
   * @throws Refusal for a product without a shape
   */
  of(product: number | string): Frame {
    if (typeof product === 'string') return this.anew.get(product)!;
    // The items of a large assembly are not gone through for each of them.
    const known = this.known.get(product);
    if (known) return known;
    const representation = this.heads.get(product)?.representation;
    if (representation === undefined || this.file.typeOf(representation) === '')
      throw new Refusal(`The assembly #${product} has no shape in which a component could be placed.`);
    const frame = {
      definition: new Reference(product),
      representation: new Reference(representation),
      millimetres: millimetresOf(this.file, representation),
    };
    this.known.set(product, frame);
    return frame;
  }

  /** A new assembly, with the contexts and the units of the one that it is made in. */
  addAssembly({ key, id, name }: NewProduct, parent: number): void {
    const { builder } = this;
    const { millimetres } = this.of(parent);
    const { definition, shape } = addProduct(this.contextsOf(parent), id, name);
    const representation = builder.reserve();
    builder.add('SHAPE_DEFINITION_REPRESENTATION', shape, representation);
    const items: Reference[] = [];
    const context = this.geometryOf(parent);
    this.anew.set(key, { definition, representation, millimetres, items });
    this.finishing.push(() =>
      builder.addAs(representation, 'SHAPE_REPRESENTATION', name, items, context ?? null),
    );
  }

  /** A new part of one body that the file holds, with the contexts of the assembly that it is made in. @param context of the body's geometry */
  addPart(
    { key, id, name }: NewProduct,
    parent: number,
    { keyword, body, context }: { keyword: string; body: number; context: number },
  ): void {
    const { builder, file } = this;
    const millimetres = lengthUnitOfContext(file, context)?.millimetres ?? 1;
    const { definition, shape } = addProduct(this.contextsOf(parent), id, name);
    const origin = addAxisPlacement(builder, IDENTITY, millimetres);
    const items = [origin, new Reference(body)];
    const representation = builder.add(keyword, name, items, new Reference(context));
    builder.add('SHAPE_DEFINITION_REPRESENTATION', shape, representation);
    this.anew.set(key, { definition, representation, millimetres, items: [], origin });
  }

  /** A new product that stands for a file. @param written the file's path as it shall stand there */
  addStandIn({ key, id, name, written }: NewProduct & { written: string }, parent: number): void {
    const { builder } = this;
    const { millimetres } = this.of(parent);
    const context = this.geometryOf(parent);
    if (!context) throw new Refusal(`The assembly #${parent} has no units in which a component could stand.`);
    this.documentType ??= builder.add('DOCUMENT_TYPE', 'configuration controlled document version');
    const origin = addAxisPlacement(builder, IDENTITY, millimetres);
    const frame = { ...this.contextsOf(parent), context, millimetres, origin, shared: new Map() };
    const { definition, representation } = addStandIn(frame, { id, name, written }, this.documentType);
    // It is placed by its origin, the one item that it has.
    this.anew.set(key, { definition, representation, millimetres, items: [], origin });
  }

  /** An axis placement as an item of a frame's representation. @param placement in millimetres */
  addItem(frame: Frame, placement: Matrix4): Reference {
    const item = addAxisPlacement(this.builder, placement, frame.millimetres);
    this.take(frame, item);
    return item;
  }

  /** The axis placement that is set down where a product goes. */
  originOf(frame: Frame): Reference {
    return this.newOf(frame)?.origin ?? this.addItem(frame, IDENTITY);
  }

  /** Lets a frame's representation have an item. */
  take(frame: Frame, item: Reference): void {
    const anew = this.newOf(frame);
    if (anew) anew.items.push(item);
    else append(this.added, frame.representation.id, item.id);
  }

  /** Another placing of a product. @param id is counted on where another has it: those of occurrences are unique in a file */
  addOccurrence(
    assembly: Frame,
    component: Frame,
    { placement, id, name }: { placement: Matrix4; id: string; name: string },
  ): void {
    const usage = this.builder.add(
      'NEXT_ASSEMBLY_USAGE_OCCURRENCE',
      this.freeId(id),
      name,
      '',
      assembly.definition,
      component.definition,
      null,
    );
    this.addTransformation(assembly, component, placement, usage);
  }

  /** Says where an occurrence stands that is placed by nothing yet. */
  addTransformation(assembly: Frame, component: Frame, placement: Matrix4, usage: Reference): void {
    const add = this.builder.add.bind(this.builder);
    const shape = add('PRODUCT_DEFINITION_SHAPE', '', '', usage);
    const origin = this.originOf(component);
    const target = this.addItem(assembly, placement);
    const operator = add('ITEM_DEFINED_TRANSFORMATION', '', '', origin, target);
    const relationship = this.builder.addComplex(
      {
        keyword: 'REPRESENTATION_RELATIONSHIP',
        parameters: ['', '', component.representation, assembly.representation],
      },
      { keyword: 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION', parameters: [operator] },
      { keyword: 'SHAPE_REPRESENTATION_RELATIONSHIP', parameters: [] },
    );
    add('CONTEXT_DEPENDENT_SHAPE_REPRESENTATION', relationship, shape);
  }

  /** Writes what had to wait until all items are known. */
  finish(): void {
    for (const finish of this.finishing.splice(0)) finish();
  }

  private newOf({ representation }: Frame) {
    return [...this.anew.values()].find((one) => one.representation === representation);
  }

  private contextsOf(parent: number) {
    const { file, builder } = this;
    const context = file.referenceOf(parent, 3);
    return {
      builder,
      productContexts: file.referencesOf(this.heads.get(parent)?.product, 3).map((one) => new Reference(one)),
      definitionContext: context === undefined ? null : new Reference(context),
    };
  }

  private geometryOf(parent: number): Reference | undefined {
    const context = this.file.referenceOf(this.of(parent).representation.id, 2);
    return context === undefined ? undefined : new Reference(context);
  }

  private freeId(wanted: string): string {
    const { file } = this;
    this.ids ??= new Set(
      file.idsOfType('NEXT_ASSEMBLY_USAGE_OCCURRENCE').map((id) => file.stringOf(id, 0)?.text ?? ''),
    );
    const id = freeDesignation(wanted, this.ids, '.');
    this.ids.add(id);
    return id;
  }
}
