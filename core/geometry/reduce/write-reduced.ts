import { Copies, copyInstances } from '#core/files/part21/copy';
import type { Reference } from '#core/files/part21/parameters';
import { withoutLabels } from '#core/files/part21/without-labels';
import { Part21Builder } from '#core/files/part21/write';
import type { BodyText } from '#core/geometry/bodies/source-part';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { groupBy } from '#core/multimap';
import type { Colour } from '#core/product/appearance';
import { facesOf } from '#core/product/faces';
import { IDENTITY, isIdentity, type Matrix4 } from '#core/product/matrix';
import { addSourceLink } from '#core/product/source/tie';
import type { Body, Product } from '#core/product/structure';
import { lengthUnitOfContext } from '#core/product/units';
import { AP242, addFrame } from '#core/product/write-assembly';
import { addColours } from '#core/product/write-colours';
import {
  addMapped,
  addOccurrence,
  addProduct,
  type Frame,
  type Placed,
} from '#core/product/write-components';
import { addAxisPlacement } from '#core/product/write-geometry';
import type { Forgettable } from './choices';
import type { Tie } from './new-file';

/** A part of the result, with every place where it stands. */
export interface ReducedPart {
  source: SourcePart;
  product: Product;
  /** Numbers of the bodies that stay. */
  bodies: number[];
  placings: {
    name: string;
    placement: Matrix4;
    /** Bodies of the whole that stand there. */
    members: readonly number[];
  }[];
}

export interface ReducedToWrite {
  id: string;
  name: string;
  fileName: string;
  timeStamp: string;
  form: 'assembly' | 'part';
  forget: ReadonlySet<Forgettable>;
  parts: readonly ReducedPart[];
  /** The ties to what it was made from; none for strangers. */
  ties: readonly Tie[];
}

/** The file, and where instances of the sources came to stand. */
export interface WrittenReduced {
  bytes: Uint8Array;
  /** By path of the source: number in the result by number in the source, for the faces that were asked for. */
  faces: Map<string, Map<number, number>>;
}

/**
 * Writes what is left of a whole as one file: the geometry as the sources have it, to the last digit, each part once with all its
 * placings.
 * @param faces by path of the source: faces whose new numbers are wanted
 */
export function writeReduced(
  lite: ReducedToWrite,
  faces: ReadonlyMap<string, readonly number[]> = new Map(),
): WrittenReduced {
  const builder = new Part21Builder();
  const frame = addFrame(builder, 'mm');
  const top = addProduct(frame, lite.id, lite.name);
  const found: WrittenReduced['faces'] = new Map();
  const items = new Set<Reference>([frame.origin]);
  const pending: ((whole: Reference) => void)[] = [];
  const blank = new Map<SourcePart, SourcePart>();
  for (const [n, part] of lite.parts.entries()) {
    const source = lite.forget.has('names') ? unlabelled(part.source, lite.parts, blank) : part.source;
    const copies = new Copies(source.file);
    const number = `part ${n + 1}`;
    const id = lite.forget.has('ids') ? number : part.product.id;
    const name = lite.forget.has('names') ? number : part.product.name;
    const shape = addPartShape(frame, source, part, name, lite, copies);
    noteFaces(found, part.source.path, copies, faces.get(part.source.path) ?? []);
    if (lite.form === 'part') {
      const placements = part.placings.map(({ placement }) => placement);
      for (const item of addMapped(frame, shape, placements)) items.add(item);
      continue;
    }
    const product = addProduct(frame, id, name);
    builder.add('SHAPE_DEFINITION_REPRESENTATION', product.shape, shape.representation);
    if (part.product.material && !lite.forget.has('materials'))
      builder.add('MATERIAL_DESIGNATION', part.product.material, [product.definition]);
    const placed: Placed = { definition: product.definition, ...shape };
    for (const [at, placing] of part.placings.entries()) {
      const own = { id: `${number}.${at + 1}`, placement: placing.placement };
      const called = lite.forget.has('names') ? own.id : placing.name;
      const { item, finish } = addOccurrence(frame, top.definition, placed, { ...own, name: called });
      items.add(item);
      pending.push(finish);
    }
  }
  const whole = builder.add('SHAPE_REPRESENTATION', lite.name, [...items], frame.context);
  builder.add('SHAPE_DEFINITION_REPRESENTATION', top.shape, whole);
  for (const finish of pending) finish(whole);
  for (const { written, ...memory } of lite.ties) addSourceLink(builder, top.definition, written, memory);
  const first = lite.parts[0]?.source.file.header;
  const bytes = builder.finish({
    name: lite.fileName,
    timeStamp: lite.timeStamp,
    originatingSystem: 'Stone Tray',
    schema: AP242,
    ...(!lite.forget.has('authors') && {
      author: first?.authors[0] ?? '',
      organization: first?.organizations[0] ?? '',
    }),
  });
  return { bytes, faces: found };
}

/** The source with the labels of its geometry emptied; units keep their names. */
function unlabelled(
  source: SourcePart,
  parts: readonly ReducedPart[],
  known: Map<SourcePart, SourcePart>,
): SourcePart {
  const before = known.get(source);
  if (before) return before;
  const positions = new Set<number>();
  for (const part of parts) {
    if (part.source !== source) continue;
    for (const text of textsOf(part))
      for (const position of text.geometry)
        if (!source.isContext(text.context, position) || isTalkative(source, position))
          positions.add(position);
  }
  const bytes = withoutLabels(
    source.file,
    [...positions].sort((a, b) => a - b),
    MEANT,
  );
  const blank = new SourcePart(source.path, bytes);
  known.set(source, blank);
  return blank;
}

/** What readers know an uncertainty by. */
const MEANT = new Set(['distance_accuracy_value']);

/** Of a context: what says more than units do. */
function isTalkative({ file: { index, bytes } }: SourcePart, position: number): boolean {
  const keyword = index.keywords[index.types[position]!]!;
  if (keyword === 'UNCERTAINTY_MEASURE_WITH_UNIT') return true;
  const text = Buffer.from(bytes.subarray(index.contents[position]!, index.ends[position]!));
  return keyword === '' && text.includes('REPRESENTATION_CONTEXT');
}

function textsOf({ source, product, bodies }: ReducedPart): BodyText[] {
  const wanted = new Set(bodies);
  return product.bodies.flatMap((body) => (wanted.has(body.id) ? [source.textOf(body)] : []));
}

/** Adds the bodies of a part: one representation, or one that maps several where they are placed differently. */
export function addPartShape(
  frame: Frame,
  source: SourcePart,
  part: ReducedPart,
  name: string,
  { forget }: Pick<ReducedToWrite, 'forget'>,
  copies: Copies,
): Pick<Placed, 'representation' | 'origin'> {
  const { builder } = frame;
  const texts = textsOf({ ...part, source });
  const geometry = new Set<number>();
  for (const text of texts) for (const position of text.geometry) geometry.add(position);
  copyInstances(source.file, Uint32Array.from(geometry).sort(), builder, copies);
  if (!forget.has('layers')) addLayers(builder, source, texts, copies);
  const groups = groupBy(
    texts,
    ({ representation, body }) => `${representation} ${body.placement?.join(' ') ?? ''}`,
  );
  const shapes = [...groups.values()].map((group) => {
    const [{ context, representation, body }] = group as [BodyText];
    const own = copies.get(context)!;
    const millimetres = lengthUnitOfContext(source.file, context)?.millimetres ?? 1;
    const origin = addAxisPlacement(builder, IDENTITY, millimetres);
    const bodies = group.map((text) => copies.get(text.body.id)!);
    const keyword = source.file.typeOf(representation)!;
    const held = builder.add(keyword, name, [origin, ...bodies], own);
    if (!forget.has('colours')) addBodyColours(builder, own, source, group, copies);
    return { representation: held, origin, placement: body.placement ?? IDENTITY };
  });
  const [only] = shapes;
  if (shapes.length === 1 && isIdentity(only!.placement)) return only!;
  const items = shapes.flatMap((shape) => addMapped(frame, shape, [shape.placement]));
  const origin = addAxisPlacement(builder, IDENTITY, frame.millimetres);
  return {
    representation: builder.add('SHAPE_REPRESENTATION', name, [origin, ...items], frame.context),
    origin,
  };
}

function addBodyColours(
  builder: Part21Builder,
  context: Reference,
  source: SourcePart,
  texts: readonly BodyText[],
  copies: Copies,
): void {
  const coloured: { item: Reference; colour: Colour }[] = [];
  const known = new Map<number, Body>(source.bodies.map((body) => [body.id, body]));
  for (const { body } of texts) {
    const { colour, faceColours } = known.get(body.id) ?? body;
    if (colour) coloured.push({ item: copies.get(body.id)!, colour });
    if (!faceColours) continue;
    const faces = facesOf(source.file, body);
    for (const other of faceColours.others)
      for (const face of other.faces) {
        const item = copies.get(faces[face]!);
        if (other.colour && item) coloured.push({ item, colour: other.colour });
      }
  }
  if (coloured.length > 0) addColours(builder, context, coloured);
}

function addLayers(
  builder: Part21Builder,
  { file }: SourcePart,
  texts: readonly BodyText[],
  copies: Copies,
): void {
  for (const { lists } of texts)
    for (const { id, items } of lists) {
      if (file.typeOf(id) !== 'PRESENTATION_LAYER_ASSIGNMENT') continue;
      const copied = items.flatMap((item) => copies.get(item) ?? []);
      const name = file.stringOf(id, 0)?.text ?? '';
      if (copied.length > 0) builder.add('PRESENTATION_LAYER_ASSIGNMENT', name, '', copied);
    }
}

function noteFaces(
  found: WrittenReduced['faces'],
  path: string,
  copies: Copies,
  faces: readonly number[],
): void {
  const known = found.get(path) ?? new Map<number, number>();
  for (const face of faces) {
    const copy = copies.get(face);
    if (copy && !known.has(face)) known.set(face, copy.id);
  }
  found.set(path, known);
}
