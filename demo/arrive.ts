import { mkdir, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { setOC } from 'replicad';
import init from 'replicad-opencascadejs';
import { TAKE_IN } from '#core/jobs/takein/operation';
import { planOperation } from '#core/operation';
import { planningOn } from '#core/planning';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import {
  BOX_ASSEMBLY,
  BOX_PARTS,
  LONG_ARM,
  SWITCH_ASSEMBLIES,
  SWITCH_FILE,
  SWITCH_PARTS,
} from './model/arrived';
import { DEMO_TIME, writePart } from './model/write-part';

/** Makes what arrived from outside: part of `npm run demo:generate`, and its result is committed. */
const OUT = path.join(import.meta.dirname, 'files', 'arrived');

setOC(await (init as unknown as () => Promise<Parameters<typeof setOC>[0]>)());
const files = new MemoryFileSet([
  ...[...BOX_PARTS, ...SWITCH_PARTS, LONG_ARM].map((part): [string, Uint8Array] => [
    part.file,
    writePart(part),
  ]),
  BOX_ASSEMBLY,
  ...SWITCH_ASSEMBLIES,
]);
// The switch arrives as one file.
const context = planningOn(await scanFileSet(files), files, { now: new Date(`${DEMO_TIME}Z`) });
const choices = { file: SWITCH_FILE, deep: true, dropUnused: true };
await files.apply((await planOperation(TAKE_IN, context, choices)).change);

await rm(OUT, { recursive: true, force: true });
for (const { path: file } of await files.list()) {
  const full = path.join(OUT, file);
  await mkdir(path.dirname(full), { recursive: true });
  const content = await files.read(file);
  await writeFile(full, content);
  console.log(`${file}  ${(content.byteLength / 1000).toFixed(0)} kB`);
}
