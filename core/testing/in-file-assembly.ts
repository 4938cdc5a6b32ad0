import type { Reference } from '#core/files/part21/parameters';
import { Part21Builder } from '#core/files/part21/write';
import { IDENTITY, type Matrix4, placementFromAxes } from '#core/product/matrix';
import {
  addOccurrence,
  addProduct,
  addStandIn,
  type Frame,
  type Placed,
  type PlacementForm,
} from '#core/product/write-components';
import { addAxisPlacement, addGeometryContext } from '#core/product/write-geometry';
import { addBox, addBoxColours, type BoxToWrite } from './box-part';

export interface InFileAssembly {
  id: string;
  parts: { id: string; boxes: BoxToWrite[]; material?: string }[];
  /** Each after those that it places; the last one is the top. */
  assemblies: { id: string; places: (readonly [id: string, placement: Matrix4])[] }[];
  /** Paths of components that lie in other files, by id. */
  external?: { [id: string]: string };
  placementForm?: PlacementForm;
}

/** Writes an assembly whose parts lie in the same file, nested as deep as one likes, in millimetres: as many systems export them. */
export function inFileAssembly({
  id: name,
  parts,
  assemblies,
  external = {},
  placementForm,
}: InFileAssembly): Uint8Array {
  const builder = new Part21Builder();
  const add = builder.add.bind(builder);
  const application = add('APPLICATION_CONTEXT', 'managed model based 3d engineering');
  const frame: Frame = {
    builder,
    productContexts: [add('PRODUCT_CONTEXT', '', application, 'mechanical')],
    definitionContext: add('PRODUCT_DEFINITION_CONTEXT', 'part definition', application, 'design'),
    context: addGeometryContext(builder, 'mm'),
    millimetres: 1,
    origin: addAxisPlacement(builder, IDENTITY, 1),
    shared: new Map(),
  };
  const placed = new Map<string, Placed>();
  const own = (): Reference => addAxisPlacement(builder, IDENTITY, 1);
  for (const { id, boxes, material } of parts) {
    const { definition, shape } = addProduct(frame, id, id);
    const origin = own();
    const made = boxes.map((box) => addBox(builder, box));
    const bodies = made.map(({ body }) => body);
    const representation = add('ADVANCED_BREP_SHAPE_REPRESENTATION', id, [origin, ...bodies], frame.context);
    add('SHAPE_DEFINITION_REPRESENTATION', shape, representation);
    addBoxColours(builder, frame.context, boxes, made);
    if (material) add('MATERIAL_DESIGNATION', material, [definition]);
    placed.set(id, { definition, representation, origin });
  }
  const type = add('DOCUMENT_TYPE', 'configuration controlled document version');
  for (const [id, written] of Object.entries(external))
    placed.set(id, addStandIn(frame, { id, name: id, written }, type));
  for (const { id, places } of assemblies) {
    const { definition, shape } = addProduct(frame, id, id);
    const origin = own();
    const items = new Set([origin]);
    const finishing = places.map(([child, placement], n) => {
      const occurrence = { id: `${id}.${n + 1}`, name: `${child} ${n + 1}`, placement };
      const { item, finish } = addOccurrence(
        frame,
        definition,
        placed.get(child)!,
        occurrence,
        placementForm,
      );
      items.add(item);
      return finish;
    });
    const representation = add('SHAPE_REPRESENTATION', id, [...items], frame.context);
    add('SHAPE_DEFINITION_REPRESENTATION', shape, representation);
    for (const finish of finishing) finish(representation);
    placed.set(id, { definition, representation, origin });
  }
  return builder.finish({
    name: `${name}.stp`,
    timeStamp: '2026-01-01T00:00:00',
    originatingSystem: 'test',
    schema: 'AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF',
  });
}

/**
 * A small file that multiplies: levels of assemblies, each with so many of the one below.
 * @param isVaried each level places as many different assemblies, so that its rows multiply too
 */
export function multiplied(levels: number, times: number, isVaried = false): Uint8Array {
  const kinds = isVaried ? times : 1;
  const ids = (level: number) => Array.from({ length: kinds }, (_, kind) => `L${level}-${kind}`);
  const assemblies: InFileAssembly['assemblies'] = [];
  for (let level = 1; level <= levels; level++)
    for (const id of ids(level))
      assemblies.push({
        id,
        places: Array.from({ length: times }, (_, n) => [
          level === 1 ? 'PART' : ids(level - 1)[n % kinds]!,
          placementFromAxes([20 * n * 1.5 ** level, 0, 0]),
        ]),
      });
  assemblies.push({ id: 'TOP', places: ids(levels).map((id, n) => [id, placementFromAxes([0, 50 * n, 0])]) });
  return inFileAssembly({
    id: 'TOP',
    parts: [{ id: 'PART', boxes: [{ name: 'body' }] }],
    assemblies,
  });
}
