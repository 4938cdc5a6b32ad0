import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { setOC } from 'replicad';
import init from 'replicad-opencascadejs';
import { Part21File } from '#core/files/part21/file';
import { readStructure } from '#core/product/structure';
import { writeAssembly } from '#core/product/write-assembly';
import { sha256 } from '#core/project/change/file-set';
import { ACTUATOR_LENGTH, ASSEMBLIES, RENAMED } from './model/assemblies';
import { DRIVE_PARTS } from './model/drive';
import { clipSet, fieldParts } from './model/field-unit';
import { type DemoPart, one, PAINT, ring } from './model/kit';
import { framePart } from './model/mirror-frame';
import { papers } from './model/papers';
import { withSource, writePart } from './model/write-part';

/** Makes the demo project again: `npm run demo:generate`. Its result is committed, so nobody has to. */
const OUT = path.join(import.meta.dirname, 'files', 'hx-12');

const CLIP = 'mirror/panel-clip.stp';

/** Files that lie about in every project: a second washer of the same name, an old state, a trial. */
const LEFT_OVER: DemoPart[] = [
  {
    file: 'bought/washer-m10.stp',
    id: 'W10-ZP',
    name: 'Washer M10 wide',
    bodies: () => one('washer', PAINT.zinc, ring(15, 5.4, 2.5)),
  },
  {
    file: 'azimuth-drive/shaft-seal (copy).stp',
    id: 'HX12-216-T',
    name: 'Shaft seal trial',
    bodies: () => one('seal', PAINT.rubber, ring(56, 45.2, 8)),
  },
];

await rm(OUT, { recursive: true, force: true });
setOC(await (init as unknown as () => Promise<Parameters<typeof setOC>[0]>)());
for (const part of [...DRIVE_PARTS, ...fieldParts(ACTUATOR_LENGTH), framePart('first'), ...LEFT_OVER])
  await put(
    RENAMED[part.file] ?? part.file,
    part.file === CLIP ? withOldSource(writePart(part)) : writePart(part),
  );
for (const { file, content } of ASSEMBLIES) await put(file, writeAssembly(content));

for (const { file, content } of papers())
  await put(file, typeof content === 'string' ? new TextEncoder().encode(content) : content);
await put('control/name-plate.png', await readFile(path.join(import.meta.dirname, 'model/name-plate.png')));

const LATER = path.join(OUT, '../later');
await put('mirror-frame.stp', writePart(framePart('second')), LATER);

/** The clip's file came out of the first issue of the set: its link to it is behind. */
function withOldSource(part: Uint8Array): Uint8Array {
  const first = writePart(clipSet('first'));
  const [body] = readStructure(Part21File.read(first)).products[0]!.bodies;
  return withSource(part, 'panel-clip-set.stp', {
    relation: 'split',
    sha256: sha256(first),
    bodies: [{ id: body!.id, name: body!.name }],
  });
}

async function put(file: string, content: Uint8Array, folder = OUT): Promise<void> {
  const full = path.join(folder, file);
  await mkdir(path.dirname(full), { recursive: true });
  await writeFile(full, content);
  console.log(`${file}  ${(content.byteLength / 1000).toFixed(0)} kB`);
}
