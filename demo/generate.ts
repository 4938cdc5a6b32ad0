import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { setOC } from 'replicad';
import init from 'replicad-opencascadejs';
import { writeAssembly } from '#core/product/write-assembly';
import { ACTUATOR_LENGTH, ASSEMBLIES, RENAMED } from './model/assemblies';
import { DRIVE_PARTS } from './model/drive';
import { fieldParts } from './model/field-unit';
import { type DemoPart, one, PAINT, ring } from './model/kit';
import { FRAME_PART } from './model/mirror-frame';
import { papers } from './model/papers';
import { writePart } from './model/write-part';

/** Makes the demo project again: `npm run demo:generate`. Its result is committed, so nobody has to. */
const OUT = path.join(import.meta.dirname, 'files', 'hx-12');

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
for (const part of [...DRIVE_PARTS, ...fieldParts(ACTUATOR_LENGTH), FRAME_PART, ...LEFT_OVER])
  await put(RENAMED[part.file] ?? part.file, writePart(part));
for (const { file, content } of ASSEMBLIES) await put(file, writeAssembly(content));

for (const { file, content } of papers()) await put(file, new TextEncoder().encode(content));
await put('control/name-plate.png', await readFile(path.join(import.meta.dirname, 'model/name-plate.png')));

async function put(file: string, content: Uint8Array): Promise<void> {
  const full = path.join(OUT, file);
  await mkdir(path.dirname(full), { recursive: true });
  await writeFile(full, content);
  console.log(`${file}  ${(content.byteLength / 1000).toFixed(0)} kB`);
}
