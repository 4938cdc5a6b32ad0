import { builderAfter, instancesEdit, listEdit } from '#core/files/part21/extend';
import type { Part21File } from '#core/files/part21/file';
import { type Edit, splice } from '#core/files/part21/splice';
import { append } from '#core/multimap';
import { IDENTITY } from '#core/product/matrix';
import { type Body, bodyKindOf, type Product } from '#core/product/structure';
import { Refusal } from '#core/refusal';
import { Anchors } from './belonging';
import { Frames } from './frames';
import { Going } from './going';
import { headsOf } from './heads';

/** A body of a product that becomes a component of it. */
export interface BodyToPart {
  body: Body;
  id: string;
  name: string;
}

/**
 * Bodies of a product become parts of their own in the same file, which the product places where the bodies stood. The bodies keep
 * their numbers and bytes, with all that refers to them: colours, layers.
 * @throws Refusal for a body that is mapped from elsewhere
 */
export function withComponents(
  file: Part21File,
  products: readonly Product[],
  product: Product,
  bodies: readonly BodyToPart[],
): Uint8Array {
  const { definition } = product;
  const heads = headsOf(file, [definition]);
  const own = heads.get(definition)?.representation;
  const builder = builderAfter(file);
  const frames = new Frames(file, builder, heads);
  const frame = frames.of(definition);
  const representations = new Anchors(file, products).representations.get(definition) ?? [];
  const leaving = new Map<number, number[]>();
  const kept = new Set<number>();
  for (const { body, id, name } of bodies) {
    const holder = representations.find((one) => file.referencesOf(one, 1).includes(body.id));
    const context = file.referenceOf(holder, 2);
    if (holder === undefined || context === undefined)
      throw new Refusal(
        `${body.name || `Body #${body.id}`} of ${product.name} is a copy of another body: it cannot become a component so.`,
      );
    append(leaving, holder, body.id);
    for (const one of [body.id, context]) kept.add(file.position(one)!);
    const key = String(body.id);
    frames.addPart({ key, id, name }, definition, {
      keyword: keywordFor(file, body),
      body: body.id,
      context,
    });
    frames.addOccurrence(frame, frames.of(key), { placement: body.placement ?? IDENTITY, id: name, name });
  }

  const edits: Edit[] = [];
  const going = new Going(file);
  for (const holder of new Set([own!, ...leaving.keys()])) {
    const gone = new Set(leaving.get(holder));
    const left = file.referencesOf(holder, 1).filter((item) => !gone.has(item));
    const isBare = !left.some((item) => bodyKindOf(file.typeOf(item) ?? '') !== undefined);
    // What only held the bodies goes, with what related it to the product's own.
    if (holder !== own && left.every((item) => file.typeOf(item) === 'AXIS2_PLACEMENT_3D')) {
      going.go(holder);
      continue;
    }
    edits.push(listEdit(file, holder, 1, [...left, ...(frames.added.get(holder) ?? [])]));
    if (isBare && gone.size > 0) edits.push(keywordEdit(file, holder, 'SHAPE_REPRESENTATION'));
  }
  going.goOrphans((position) => kept.has(position));
  return splice(
    file.bytes,
    [...edits, ...going.edits(), ...instancesEdit(file, builder)].sort(
      (a, b) => a.start - b.start || a.end - b.end,
    ),
  );
}

/** The kind of representation that may hold such a body (ISO 10303-514, -512, -509). */
function keywordFor(file: Part21File, { id, kind }: Body): string {
  if (kind === 'surface') return 'MANIFOLD_SURFACE_SHAPE_REPRESENTATION';
  return file.typeOf(id) === 'FACETED_BREP'
    ? 'FACETED_BREP_SHAPE_REPRESENTATION'
    : 'ADVANCED_BREP_SHAPE_REPRESENTATION';
}

function keywordEdit(file: Part21File, id: number, keyword: string): Edit {
  const { content } = file.contentOf(id)!;
  return { start: content, end: content + file.typeOf(id)!.length, content: Buffer.from(keyword) };
}
