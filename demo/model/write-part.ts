import { getOC, makeCompound } from 'replicad';
import { addSourceLink, type SourceMemory } from '#core/links/source';
import { copyInstances } from '#core/part21/copy';
import { Part21File } from '#core/part21/file';
import {
  Enumeration,
  type Parameter,
  Real,
  Reference,
  referenceOf,
  referencesOf,
} from '#core/part21/parameters';
import { encodeString } from '#core/part21/strings';
import { Part21Builder, writeInstance } from '#core/part21/write';
import type { DemoPart } from './kit';

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
  return dressed(written, part, bodies);
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
function dressed(bytes: Uint8Array, part: DemoPart, bodies: { name: string; colour: string }[]): Uint8Array {
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
  let next = Math.max(...file.index.ids) + 1;
  const add = (keyword: string, ...parameters: Parameter[]) => {
    lines.push(writeInstance(next, [{ keyword, parameters }]));
    return new Reference(next++);
  };
  const styles = new Map<string, Reference>();
  const styled = bodies.map(({ colour }, n) => {
    let style = styles.get(colour);
    if (!style) {
      const channels = [1, 3, 5].map(
        (at) => new Real(Math.round((Number.parseInt(colour.slice(at, at + 2), 16) / 255) * 1e4) / 1e4),
      );
      const fill = add('FILL_AREA_STYLE', '', [
        add('FILL_AREA_STYLE_COLOUR', '', add('COLOUR_RGB', '', ...channels)),
      ]);
      const side = add('SURFACE_SIDE_STYLE', '', [add('SURFACE_STYLE_FILL_AREA', fill)]);
      style = add('PRESENTATION_STYLE_ASSIGNMENT', [
        add('SURFACE_STYLE_USAGE', new Enumeration('BOTH'), side),
      ]);
      styles.set(colour, style);
    }
    return add('STYLED_ITEM', 'colour', [style], new Reference(solids[n]!));
  });
  const context = file.parameters(shapeOf(file))![2] as Reference;
  add('MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION', '', styled, context);
  const fileName = part.file.split('/').at(-1)!;
  return new TextEncoder().encode(
    `ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('${encodeString(fileName)}','${DEMO_TIME}',('Demo'),('Demo'),'Stone Tray','Stone Tray demo','');\nFILE_SCHEMA(('AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF { 1 0 10303 442 1 1 4 }'));\nENDSEC;\nDATA;\n${lines.join('\n')}\nENDSEC;\nEND-ISO-10303-21;\n`,
  );
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
