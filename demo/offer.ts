import { mkdir, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';
import { PUBLISH } from '#core/jobs/publish/operation';
import { planOperation } from '#core/operation';
import type { Offer } from '#core/planned';
import { MemoryFileSet } from '#core/project/change/memory';
import { testContext } from '#core/testing/plan-context';
import { CONDITIONS, OFFERED, type StoredOffer } from './offered';
import { readFolder } from './read-folder';

/**
 * Makes what the demo's catalogue offers of what is given out: `npm run demo:generate` ends with it, and its result is committed. Each in the
 * formats of the catalogue, with its picture and what is said of it.
 */
const FROM = path.join(import.meta.dirname, 'files');
const OUT = path.join(FROM, 'offered');

const contents = new Map<string, Uint8Array>();
for (const folder of ['hx-12', 'given-out'])
  for (const [file, content] of await readFolder(path.join(FROM, folder))) contents.set(file, content);
const files = new MemoryFileSet([...contents]);
const kernel = new ThreadedKernel();

await rm(OUT, { recursive: true, force: true });
for (const { folder, file, title, partNumber } of OFFERED) {
  const { offers } = await planOperation(PUBLISH, await testContext(files, kernel), {
    file,
    title,
    partNumber,
    conditions: CONDITIONS,
  });
  const [{ madeFrom, choices, write }] = offers as [Offer];
  const { facts, picture, files: made } = await write();
  const out = path.join(OUT, folder);
  await mkdir(out, { recursive: true });
  await writeFile(path.join(out, 'picture.png'), picture);
  const besides = made.filter(({ format }) => format !== 'step');
  for (const { name, content } of besides) await writeFile(path.join(out, name), content);
  const stored: StoredOffer = {
    facts,
    madeFrom,
    choices,
    files: besides.map(({ format, name }) => ({ format, name })),
  };
  await writeFile(path.join(out, 'offer.json'), `${JSON.stringify(stored, null, 2)}\n`);
  console.log(file, made.map(({ format, content }) => `${format} ${content.byteLength}`).join(', '));
}
await kernel.close();
