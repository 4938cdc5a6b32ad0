import { closurePositions } from '#core/files/part21/closure';
import { copyInstances } from '#core/files/part21/copy';
import { builderAfter, extended, type ListAddition } from '#core/files/part21/extend';
import { Part21File } from '#core/files/part21/file';
import { Reference } from '#core/files/part21/parameters';
import { replaceStrings } from '#core/files/part21/rewrite';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { withoutBodies } from '#core/geometry/bodies/without-bodies';
import { facesOf, shellsOf } from '#core/product/faces';
import { type Body, readStructure } from '#core/product/structure';
import { isRadian, lengthUnitOfContext } from '#core/product/units';
import { Refusal } from '#core/refusal';

/** A piece of a body as the kernel wrote it: STEP in the source's unit of length, and the name it shall have. */
export interface NamedPiece {
  name: string;
  step: Uint8Array;
  /** For each of its faces, which face of the body it was part of; null for one that a cut made. */
  faces: readonly (number | null)[];
}

/** How the kernel names the unit of length in which a body is written. @throws Refusal for a unit it does not know */
export function kernelUnitOf(source: SourcePart, body: Body): string {
  const { name } = lengthUnitOfContext(source.file, source.textOf(body).context) ?? { name: 'mm' };
  const known: { [unit: string]: string } = {
    mm: 'MM',
    cm: 'CM',
    m: 'M',
    µm: 'UM',
    in: 'INCH',
    ft: 'FT',
  };
  const unit = known[name];
  if (!unit) throw new Refusal(`${source.path} is in a unit of ${name}. Bodies in that unit cannot be cut.`);
  return unit;
}

/**
 * The source in which pieces stand in the place of a body, with the styles of the body and of its faces, and with its
 * layers. Faces that the cut made look as the body does. Every other byte stays as it was.
 * @returns the new file, and the numbers of the pieces in it
 * @throws Refusal when the pieces cannot be written in the source's units
 */
export function withPieces(
  source: SourcePart,
  body: Body,
  pieces: readonly NamedPiece[],
): { bytes: Uint8Array; ids: number[] } {
  const { file } = source;
  const text = source.textOf(body);
  const builder = builderAfter(file);

  // 1. The pieces' geometry, renumbered.
  const added = pieces.map(({ name, step, faces }) => {
    const own = Part21File.read(step);
    const solid = readStructure(own).products[0]?.bodies[0];
    if (!solid) throw new Refusal(`No body could be made for ${name}.`);
    if (!isRadian(file, text.context) && own.idsOfType('CONICAL_SURFACE').length > 0)
      throw new Refusal(
        `${source.path} measures angles in another unit than radian, and ${name} has a cone. Save the file in radian to cut this body.`,
      );
    const named = Part21File.read(replaceStrings(step, [{ ...own.stringOf(solid.id, 0)!, text: name }]));
    const copies = copyInstances(named, closurePositions(named, [solid.id]), builder);
    const written = facesOf(named, solid).map((face) => copies.get(face)!.id);
    // Where the kernel had to mend faces while writing, nobody knows which is which.
    const known = written.length === faces.length ? written : [];
    return { id: copies.get(solid.id)!.id, faces: known.map((id, n) => ({ id, from: faces[n] ?? null })) };
  });
  const ids = added.map(({ id }) => id);

  // 2. They stand where the body stood, in its representation and its layers.
  const additions: ListAddition[] = [{ id: text.representation, position: 1, items: ids }];
  for (const { id, position, items } of text.lists)
    if (items.includes(body.id)) additions.push({ id, position, items: ids });

  // 3. Styles: the body's own, or what most of its faces have; and those of single faces.
  const styleOf = new Map(text.styles.map((id) => [file.referenceOf(id, 2), id]));
  const faces = facesOf(file, body);
  const styled = (style: number, items: readonly number[]) => {
    if (items.length === 0) return;
    const appearance = file.referencesOf(style, 1).map((id) => new Reference(id));
    const now = items.map((id) => builder.add('STYLED_ITEM', '', appearance, new Reference(id)).id);
    for (const { id, position, items: listed } of text.lists)
      if (listed.includes(style)) additions.push({ id, position, items: now });
  };
  const others = new Set(body.faceColours?.others.flatMap((other) => other.faces));
  const common = faces.find((face, n) => !others.has(n) && styleOf.has(face));
  const whole = styleOf.get(body.id) ?? styleOf.get(shellsOf(file, body)[0]) ?? styleOf.get(common);
  if (whole !== undefined) styled(whole, ids);
  for (const [n, face] of faces.entries()) {
    const style = styleOf.get(face);
    if (style !== undefined && others.has(n))
      styled(
        style,
        added.flatMap((piece) => piece.faces.flatMap(({ id, from }) => (from === n ? [id] : []))),
      );
  }

  const together = new SourcePart(source.path, extended(file, builder, additions));
  return { bytes: withoutBodies(together, new Set([body.id])), ids };
}
