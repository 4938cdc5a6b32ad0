import { getOC, makeCompound } from 'replicad';
import { copyInstances } from '#core/files/part21/copy';
import { builderAfter } from '#core/files/part21/extend';
import { Part21File } from '#core/files/part21/file';
import { Enumeration, Reference, referenceOf, referencesOf } from '#core/files/part21/parameters';
import { encodeString } from '#core/files/part21/strings';
import { Part21Builder, writeInstance } from '#core/files/part21/write';
import type { SourceMemory } from '#core/product/source/memory';
import { addSourceLink } from '#core/product/source/tie';
import { addColours } from '#core/product/write-colours';
import type { DemoBody, DemoPart } from './kit';
import { withKnown } from './known-parts';

/** All demo files carry one date, so that generating them again gives the same bytes. */
export const DEMO_TIME = '2026-09-14T08:00:00';

/** Makes a part's bodies with the kernel and writes them as ISO 10303-242, named and coloured. */
export function writePart(part: DemoPart): Uint8Array {
  const bodies = part.bodies();
  const oc = getOC();
  oc.Interface_Static.SetCVal('write.step.schema', 'AP242DIS');
  oc.Interface_Static.SetIVal('write.surfacecurve.mode', 0);
  oc.Interface_Static.SetIVal('write.step.assembly', 0);
  const writer = new oc.STEPControl_Writer();
  const shape = bodies.length === 1 ? bodies[0]!.shape : makeCompound(bodies.map((body) => body.shape));
  quietly(() => {
    writer.Transfer(
      shape.wrapped,
      oc.STEPControl_StepModelType.STEPControl_AsIs,
      true,
      new oc.Message_ProgressRange(),
    );
    writer.Write('part.stp');
  });
  const written = oc.FS.readFile('part.stp') as Uint8Array;
  oc.FS.unlink('part.stp');
  return withKnown(dressed(written, part, bodies), part.id);
}

/** Adds a link to the file that a part was taken from. */
export function withSource(bytes: Uint8Array, written: string, memory: SourceMemory): Uint8Array {
  const file = Part21File.read(bytes);
  const builder = new Part21Builder();
  const copies = copyInstances(
    file,
    Uint32Array.from({ length: file.index.count }, (_, n) => n),
    builder,
  );
  addSourceLink(builder, copies.get(file.idsOfType('PRODUCT_DEFINITION')[0]!)!, written, memory);
  return builder.finish({
    name: file.header.name,
    timeStamp: DEMO_TIME,
    author: 'Demo',
    organization: 'Demo',
    originatingSystem: 'Stone Tray demo',
    schema: file.header.writtenSchemas[0]!,
  });
}

/** Replaces header, product and body names, and adds a colour to each body. */
function dressed(bytes: Uint8Array, part: DemoPart, bodies: Omit<DemoBody, 'shape'>[]): Uint8Array {
  const file = Part21File.read(bytes);
  const solids = bodiesInOrder(file);
  if (solids.length !== bodies.length)
    throw new Error(`${part.file}: ${bodies.length} bodies were made and ${solids.length} written`);
  const product = file.idsOfType('PRODUCT')[0]!;
  const lines: string[] = [];
  for (const id of file.index.ids) {
    const records = file.instance(id)!.records;
    const body = solids.indexOf(id);
    if (body >= 0) records[0]!.parameters[0] = bodies[body]!.name;
    if (id === product) records[0]!.parameters.splice(0, 2, part.id, part.name);
    lines.push(writeInstance(id, records));
  }
  const builder = builderAfter(file);
  const coloured = bodies.flatMap(({ colour, bores }, n) => [
    { item: new Reference(solids[n]!), colour },
    ...(bores ? boresOf(file, solids[n]!).map((face) => ({ item: new Reference(face), colour: bores })) : []),
  ]);
  addColours(builder, file.parameters(shapeOf(file))![2] as Reference, coloured);
  const fileName = part.file.split('/').at(-1)!;
  return new TextEncoder().encode(
    `ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('${encodeString(fileName)}','${DEMO_TIME}',('Demo'),('Demo'),'Stone Tray','Stone Tray demo','');\nFILE_SCHEMA(('AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF { 1 0 10303 442 1 1 4 }'));\nENDSEC;\nDATA;\n${lines.join('\n')}\n${Buffer.from(builder.instances()).toString('latin1')}ENDSEC;\nEND-ISO-10303-21;\n`,
  );
}

/** Full cylindrical faces with the material around them: their normal is turned against the surface's. */
function boresOf(file: Part21File, solid: number): number[] {
  return file.referencesOf(file.referenceOf(solid, 1), 1).filter((face) => {
    const [, , surface, sense] = file.parameters(face)!;
    return (
      file.typeOf(referenceOf(surface) ?? -1) === 'CYLINDRICAL_SURFACE' &&
      sense instanceof Enumeration &&
      sense.name === 'F' &&
      file.referencesOf(face, 1).some((bound) => hasFullCircle(file, bound))
    );
  });
}

function hasFullCircle(file: Part21File, bound: number): boolean {
  return file.referencesOf(file.referenceOf(bound, 1), 1).some((oriented) => {
    const edge = file.referenceOf(oriented, 3);
    return edge !== undefined && file.referenceOf(edge, 1) === file.referenceOf(edge, 2);
  });
}

function shapeOf(file: Part21File): number {
  return referenceOf(file.parameters(file.idsOfType('SHAPE_DEFINITION_REPRESENTATION')[0])![1])!;
}

function bodiesInOrder(file: Part21File): number[] {
  return referencesOf(file.parameters(shapeOf(file))![1]).filter((id) => /BREP/.test(file.typeOf(id) ?? ''));
}

/** The kernel prints what it writes; nobody needs that. */
function quietly(work: () => void): void {
  const { log } = console;
  console.log = () => {};
  try {
    work();
  } finally {
    console.log = log;
  }
}
