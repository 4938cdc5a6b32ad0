import { mkdir, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { OPENING_KINDS } from '#core/geometry/fill/opening-kinds';
import { proposeMounting } from '#core/geometry/reduce/mounting';
import { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';
import { GROUPS } from '#core/jobs/groups/operation';
import { LITE } from '#core/jobs/lite/operation';
import { SEAL } from '#core/jobs/seal/operation';
import { planOperation } from '#core/operation';
import { MemoryFileSet } from '#core/project/change/memory';
import { testContext } from '#core/testing/plan-context';
import { readFolder } from './read-folder';
import { repairAll } from './repair-all';

/**
 * Makes what is given out of the demo project: part of `npm run demo:generate`, and its result is committed. The azimuth drive as a lite model
 * that keeps its flange, the field unit in groups that move, the actuator as one sealed solid; and what of the project had to be repaired first.
 */
const FROM = path.join(import.meta.dirname, 'files', 'hx-12');
const OUT = path.join(import.meta.dirname, 'files', 'given-out');

const DRIVE = 'azimuth-drive/azimuth-drive.stp';
const FOLDER = 'given-out';

const files = new MemoryFileSet(await readFolder(FROM));
const before = new Map((await files.list()).map(({ path: file, sha256 }) => [file, sha256]));
const kernel = new ThreadedKernel();
const known = new Map<string, Promise<unknown>>();

await repairAll(files);

const lite = {
  file: DRIVE,
  smallerThan: 2,
  hidden: true,
  seen: 'drop',
  gap: 16,
  fill: [...OPENING_KINDS],
  folder: FOLDER,
};
const { preview } = await planOperation(LITE, await testContext(files, kernel, known), lite);
const [flange] = proposeMounting(preview.whole, preview.reach, (file) => preview.openings.get(file));
const { file, face, name } = flange!;
const drive = await planOperation(LITE, await testContext(files, kernel, known), {
  ...lite,
  keepFaces: [{ file, face, name, trace: null }],
  outside: true,
});
await files.apply(drive.change);
console.log(drive.change.summary, drive.preview.report.kept, drive.preview.report.leaks);

const groups = await planOperation(GROUPS, await testContext(files, kernel, known), {
  file: 'hx-12-heliostat.stp',
  accept: true,
  smallerThan: 2,
  folder: FOLDER,
});
await files.apply(groups.change);
console.log(groups.change.summary, groups.hindrance, groups.change.warnings);

const sealed = await planOperation(SEAL, await testContext(files, kernel, known), {
  file: 'bought/actuator-la-300.stp',
  folder: FOLDER,
});
await files.apply(sealed.change);
console.log(sealed.change.summary, sealed.preview.report.sections);
await kernel.close();

await rm(OUT, { recursive: true, force: true });
for (const made of await files.list()) {
  if (before.get(made.path) === made.sha256) continue;
  const full = path.join(OUT, made.path);
  await mkdir(path.dirname(full), { recursive: true });
  const content = await files.read(made.path);
  await writeFile(full, content);
  console.log(`${made.path}  ${(content.byteLength / 1000).toFixed(0)} kB`);
}
