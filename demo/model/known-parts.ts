import { builderAfter, extended } from '#core/files/part21/extend';
import { Part21File } from '#core/files/part21/file';
import { Reference } from '#core/files/part21/parameters';
import { densityOf } from '#core/product/materials';
import { withMaterial } from '#core/product/write-material';

/** What is known of a part besides its shape. */
interface KnownPart {
  material: string;
  properties?: { readonly [name: string]: string };
}

/** What is known of demo parts besides their shapes, by their ids: for the bill of materials. */
const KNOWN: { readonly [id: string]: KnownPart } = {
  'HX12-110': { material: 'Steel', properties: { Treatment: 'hot-dip galvanised', 'Drawing sheet': 'A2' } },
  'HX12-111': { material: 'Steel', properties: { Treatment: 'hot-dip galvanised' } },
  'STD-WSH-M24': { material: 'Steel', properties: { Treatment: 'zinc plated' } },
  'STD-NUT-M24': { material: 'Steel', properties: { Treatment: 'zinc plated' } },
  'HX12-310': { material: 'Cast iron', properties: { Treatment: 'painted' } },
  'HX12-311': { material: 'Bronze' },
  'HX12-312': { material: 'Stainless steel' },
  'HX12-420': { material: 'Glass', properties: { Supplier: 'invented in house', 'Lead time': '6 weeks' } },
};

/** The file of a part with its material and its properties, where these are known. */
export function withKnown(bytes: Uint8Array, id: string): Uint8Array {
  const known = KNOWN[id];
  if (!known) return bytes;
  const { material, properties = {} } = known;
  const definition = Part21File.read(bytes).idsOfType('PRODUCT_DEFINITION')[0]!;
  const made = withMaterial(bytes, [definition], { name: material, density: densityOf(material) });
  const file = Part21File.read(made);
  const builder = builderAfter(file);
  const add = builder.add.bind(builder);
  const items = Object.entries(properties).map(([name, value]) =>
    add('DESCRIPTIVE_REPRESENTATION_ITEM', name, value),
  );
  if (items.length === 0) return made;
  const property = add('PROPERTY_DEFINITION', 'part list', '', new Reference(definition));
  const representation = add(
    'REPRESENTATION',
    'part list',
    items,
    add('REPRESENTATION_CONTEXT', 'part list', ''),
  );
  add('PROPERTY_DEFINITION_REPRESENTATION', property, representation);
  return extended(file, builder, []);
}
