import { closurePositions } from '#core/files/part21/closure';
import { Copies, copyInstances } from '#core/files/part21/copy';
import { builderAfter } from '#core/files/part21/extend';
import { Enumeration, Real, Reference } from '#core/files/part21/parameters';
import { Part21Builder } from '#core/files/part21/write';
import type { Colour } from '#core/product/appearance';
import { IDENTITY, isIdentity, type Matrix4 } from '#core/product/matrix';
import type { SourceMemory } from '#core/product/source/memory';
import { addSourceLink } from '#core/product/source/tie';
import type { Use } from '#core/product/structure';
import { lengthUnitOfContext } from '#core/product/units';
import { addColours } from '#core/product/write-colours';
import { addAxisPlacement } from '#core/product/write-geometry';
import { Refusal } from '#core/refusal';
import type { BodyText, ItemList, SourcePart } from './source-part';

/** Numbers beyond 31 bits are more than many readers take; room is left for those of the new instances. */
const MOST_COMMON_NUMBER = 2 ** 31 - 2 ** 20;

/** A part that holds one body of a source. */
export interface BodyPartToWrite {
  id: string;
  name: string;
  use: Use;
  /** Carry colours, layers and other styles over. */
  styles: boolean;
  /** What it is made of, by name. */
  material?: string | null;
  /** Other colours, by number of the body; what the source has for the body and its faces is then left out. */
  colours?: ReadonlyMap<number, Colour>;
  /** Where the new part's origin lies in the source, mm; identity keeps the source's origin. */
  origin: Matrix4;
  /** An assembly in the same file places it, so its representation holds its origin. */
  isPlaced?: boolean;
}

/** A component file that holds one body of a source. */
export interface BodyFileToWrite extends BodyPartToWrite {
  /** Name in the header; the file's own name. */
  fileName: string;
  /** ISO 8601 without zone. */
  timeStamp: string;
  /** The tie to the source; null for a file that shall not know it. */
  source: ({ written: string } & SourceMemory) | null;
}

/**
 * Writes the file of one body, or of several that belong together, in the source's own schema. What comes from the
 * source keeps its numbers there.
 */
export function writeBodyFile(
  source: SourcePart,
  texts: readonly BodyText[],
  part: BodyFileToWrite,
): Uint8Array {
  const { file } = source;
  const isRoomy = file.highest < MOST_COMMON_NUMBER;
  const builder = isRoomy ? builderAfter(file) : new Part21Builder();
  const { definition } = addBodyPart(
    source,
    texts,
    part,
    builder,
    new Copies(file, isRoomy ? 'kept' : 'new'),
  );
  if (part.source) addSourceLink(builder, definition, part.source.written, part.source);
  return builder.finish({
    name: part.fileName,
    timeStamp: part.timeStamp,
    originatingSystem: 'Stone Tray',
    schema: file.header.writtenSchemas[0] ?? '',
  });
}

/**
 * Adds bodies as a product of their own: the closure of its instances as the source has them, to the last digit, with
 * units, uncertainty, styles and layers. Another origin is written as a mapped item (ISO 10303-43), so that the
 * geometry is not touched even then.
 * @throws Refusal for bodies that do not stand in one representation of the source
 */
export function addBodyPart(
  source: SourcePart,
  texts: readonly BodyText[],
  part: BodyPartToWrite,
  builder: Part21Builder,
  copies = new Copies(source.file),
): { definition: Reference; representation: Reference; origin: Reference | null } {
  const { file } = source;
  const [first, ...others] = texts as [BodyText, ...BodyText[]];
  if (others.some((text) => text.representation !== first.representation))
    throw new Refusal(
      `${part.name}: these bodies are placed differently in ${source.path} and cannot be one component.`,
    );

  // 1. The product, in the contexts of the source's own.
  const { definition, shape } = addProduct(source, builder, part, copies);
  if (part.material) builder.add('MATERIAL_DESIGNATION', part.material, [definition]);

  // 2. The bodies and their representation.
  copyInstances(
    file,
    others.length === 0
      ? first.geometry
      : Uint32Array.from(new Set(texts.flatMap(({ geometry }) => [...geometry]))).sort(),
    builder,
    copies,
  );
  const context = copies.get(first.context)!;
  const held = copies.reserve(first.representation, builder);
  const keyword = file.typeOf(first.representation)!;
  const bodies = texts.map(({ body }) => copies.get(body.id)!);
  // What is mapped or placed holds the axis placement that is moved, as readers expect.
  const millimetres = lengthUnitOfContext(file, first.context)?.millimetres ?? 1;
  const isMapped = !isIdentity(part.origin);
  const from = isMapped || part.isPlaced ? addAxisPlacement(builder, part.origin, millimetres) : null;
  builder.addAs(held, keyword, part.name, from ? [from, ...bodies] : bodies, context);
  let [representation, origin] = [held, from];
  if (isMapped) {
    origin = addAxisPlacement(builder, IDENTITY, millimetres);
    const mapped = builder.add(
      'MAPPED_ITEM',
      part.name,
      builder.add('REPRESENTATION_MAP', from, held),
      origin,
    );
    const items = [origin, mapped];
    // A file that holds nothing but one mapped item is taken for the body at another place by some readers, and the colours
    // behind it get lost. With its origin as a point it is a part.
    if (!part.isPlaced) {
      const point = builder.add('CARTESIAN_POINT', '', [new Real(0), new Real(0), new Real(0)]);
      items.push(builder.add('GEOMETRIC_CURVE_SET', 'origin', [point]));
    }
    representation = builder.add('SHAPE_REPRESENTATION', part.name, items, context);
  }
  builder.add('SHAPE_DEFINITION_REPRESENTATION', shape, representation);

  // 3. Styles, and the body's share of what lists items.
  if (part.styles) {
    const plain = texts.filter(({ body }) => !part.colours?.has(body.id));
    const styles = plain.flatMap((text) => text.styles);
    copyInstances(file, closurePositions(file, styles, copies), builder, copies);
    for (const { id, position, items } of sharedLists(texts)) {
      if (!items.some((item) => copies.has(item))) continue;
      copyInstances(
        file,
        closurePositions(file, otherReferences(source, id, position), copies),
        builder,
        copies,
      );
      const parameters = file.parameters(id)!.map((parameter, n) => {
        if (n === position) return items.flatMap((item) => copies.get(item) ?? []);
        return parameter instanceof Reference ? copies.get(parameter.id)! : parameter;
      });
      builder.add(file.typeOf(id)!, ...parameters);
    }
  }
  const coloured = texts.flatMap(({ body }) => {
    const colour = part.colours?.get(body.id);
    return colour ? [{ item: copies.get(body.id)!, colour }] : [];
  });
  if (coloured.length > 0) addColours(builder, context, coloured);
  return { definition, representation, origin };
}

/** The lists of several bodies, each once with the items of all of them. */
function sharedLists(texts: readonly BodyText[]): ItemList[] {
  if (texts.length === 1) return texts[0]!.lists;
  const lists = new Map<number, ItemList>();
  for (const text of texts)
    for (const { id, position, items } of text.lists) {
      const list = lists.get(id);
      if (list) list.items.push(...items);
      else lists.set(id, { id, position, items: [...items] });
    }
  return [...lists.values()];
}

/** What a listing entity refers to besides its items, such as a presentation's context. */
function otherReferences({ file }: SourcePart, id: number, position: number): number[] {
  return file
    .parameters(id)!
    .flatMap((parameter, n) => (n !== position && parameter instanceof Reference ? [parameter.id] : []));
}

function addProduct(source: SourcePart, builder: Part21Builder, part: BodyPartToWrite, copies: Copies) {
  const { definitionContext, productContexts, contextPositions } = source.contexts;
  copyInstances(source.file, contextPositions, builder, copies);
  const copied = (ids: number[]) => ids.flatMap((id) => copies.get(id) ?? []);
  const own = builder.add('PRODUCT', part.id, part.name, '', copied(productContexts));
  builder.add('PRODUCT_RELATED_PRODUCT_CATEGORY', part.use === 'reference' ? 'reference' : 'part', '', [own]);
  const makeOrBuy = { made: 'MADE', bought: 'BOUGHT', reference: 'NOT_KNOWN' }[part.use];
  const version = builder.add(
    'PRODUCT_DEFINITION_FORMATION_WITH_SPECIFIED_SOURCE',
    '',
    '',
    own,
    new Enumeration(makeOrBuy),
  );
  const context = definitionContext === undefined ? null : (copies.get(definitionContext) ?? null);
  const definition = builder.add('PRODUCT_DEFINITION', 'design', '', version, context);
  return { definition, shape: builder.add('PRODUCT_DEFINITION_SHAPE', '', '', definition) };
}
