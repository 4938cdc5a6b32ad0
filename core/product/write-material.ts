import { builderAfter, instancesEdit, listEdit } from '#core/files/part21/extend';
import { Part21File } from '#core/files/part21/file';
import {
  DERIVED,
  Enumeration,
  Real,
  Reference,
  referencesOf,
  Typed,
  textOf,
} from '#core/files/part21/parameters';
import { leavingWith, removal } from '#core/files/part21/remove';
import { type Edit, splice } from '#core/files/part21/splice';
import type { Part21Builder } from '#core/files/part21/write';

/** What a part is made of. */
export interface Material {
  name: string;
  /** kg/m³; null where it is not known. */
  density: number | null;
}

const PROPERTY = 'material property';
/** What belongs to nothing but a material, and goes with it. */
const PARTS_OF_A_MATERIAL =
  /^(PROPERTY_DEFINITION|REPRESENTATION|REPRESENTATION_CONTEXT|DESCRIPTIVE_REPRESENTATION_ITEM|MEASURE_REPRESENTATION_ITEM|DERIVED_UNIT|DERIVED_UNIT_ELEMENT|GENERAL_PROPERTY)$/;

/**
 * The file with another material for some of its product definitions: MATERIAL_DESIGNATION (ISO 10303-45) for the name, a property with a
 * measure in kg/m³ for the density. What it said of their material before is taken out; no other byte changes.
 * @param material null to take it out
 */
export function withMaterial(
  bytes: Uint8Array,
  definitions: readonly number[],
  material: Material | null,
): Uint8Array {
  const file = Part21File.read(bytes);
  const given = new Set(definitions);
  const lists: Edit[] = [];
  const emptied: number[] = [];
  for (const id of file.idsOfType('MATERIAL_DESIGNATION')) {
    const named = referencesOf(file.entity(id, 'MATERIAL_DESIGNATION')?.[1]);
    const left = named.filter((definition) => !given.has(definition));
    if (left.length === named.length) continue;
    if (left.length === 0) emptied.push(id);
    else lists.push(listEdit(file, id, 1, left));
  }
  const properties = file.idsOfType('PROPERTY_DEFINITION').filter((id) => {
    const [name, , of] = file.entity(id, 'PROPERTY_DEFINITION') ?? [];
    return of instanceof Reference && given.has(of.id) && textOf(name)?.toLowerCase() === PROPERTY;
  });
  const leaving = leavingWith(
    file,
    () => [...emptied, ...properties],
    (id) => PARTS_OF_A_MATERIAL.test(file.typeOf(id) ?? '') || file.entity(id, 'NAMED_UNIT') !== undefined,
  );
  const edits: Edit[] = lists;
  for (let n = 0; n < file.index.count; n++)
    if (leaving.has(file.index.ids[n]!)) edits.push(removal(file, n));
  const builder = builderAfter(file);
  if (material) addMaterial(builder, definitions, material);
  const added = instancesEdit(file, builder).map((edit) => {
    // Where the last instance leaves, the new ones take its place.
    const taken = edits.find(({ start, end }) => start < edit.start && end >= edit.start);
    return taken
      ? { ...edit, start: taken.start, end: taken.start, content: withLineEnd(edit.content!) }
      : edit;
  });
  return splice(
    bytes,
    [...added, ...edits].sort((a, b) => a.start - b.start),
  );
}

function addMaterial(
  builder: Part21Builder,
  definitions: readonly number[],
  { name, density }: Material,
): void {
  const add = builder.add.bind(builder);
  const parts = definitions.map((definition) => new Reference(definition));
  add('MATERIAL_DESIGNATION', name, parts);
  if (density === null) return;
  const unit = (kind: string, prefix: Enumeration | null, base: string) =>
    builder.addComplex(
      { keyword: kind, parameters: [] },
      { keyword: 'NAMED_UNIT', parameters: [DERIVED] },
      { keyword: 'SI_UNIT', parameters: [prefix, new Enumeration(base)] },
    );
  const kilogram = add(
    'DERIVED_UNIT_ELEMENT',
    unit('MASS_UNIT', new Enumeration('KILO'), 'GRAM'),
    new Real(1),
  );
  const cubic = add('DERIVED_UNIT_ELEMENT', unit('LENGTH_UNIT', null, 'METRE'), new Real(-3));
  const value = new Typed('POSITIVE_RATIO_MEASURE', new Real(density));
  const item = add('MEASURE_REPRESENTATION_ITEM', 'density', value, add('DERIVED_UNIT', [kilogram, cubic]));
  const context = add('REPRESENTATION_CONTEXT', 'material', '');
  const representation = add('REPRESENTATION', 'density', [item], context);
  for (const part of parts)
    add(
      'PROPERTY_DEFINITION_REPRESENTATION',
      add('PROPERTY_DEFINITION', PROPERTY, 'density', part),
      representation,
    );
}

/** Behind the line break that stands before it instead of in front of it. */
function withLineEnd(content: Uint8Array): Uint8Array {
  return content[0] === 0x0a ? Buffer.concat([content.subarray(1), Buffer.from('\n')]) : content;
}
