import path from 'node:path';
import { OPENING_KINDS } from '#core/geometry/fill/opening-kinds';
import { reduceChoices } from '#core/geometry/reduce/choices';
import { reduceWhole } from '#core/geometry/reduce/reduce';
import { startOcct } from '#core/geometry/shape/occt';
import { fused, readSolids } from '#core/geometry/shape/occt-unite';
import { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';
import { bareLite } from '#core/jobs/seal/plan';
import { seal } from '#core/jobs/seal/sealed';
import { FolderFileSet } from '#core/project/change/folder/folder';
import { MemoryFileSet } from '#core/project/change/memory';
import { testContext } from '#core/testing/plan-context';
import { compare, type Result } from './measure';

const DRIVE = 'azimuth-drive/azimuth-drive.stp';

/** What making one solid of the drive costs once its bodies are filled, against the kernel's one boolean of them. */
export async function sealing(): Promise<Result[]> {
  const folder = await FolderFileSet.open(path.join(import.meta.dirname, '../demo/files/hx-12'));
  const paths = (await folder.list()).map((file) => file.path).filter((file) => /\.ste?p$/.test(file));
  const files = new MemoryFileSet(
    await Promise.all(paths.map(async (file) => [file, await folder.read(file)] as [string, Uint8Array])),
  );
  const kernel = new ThreadedKernel();
  const context = await testContext(files, kernel);
  const choices = reduceChoices({ hidden: true, seen: 'drop', fill: [...OPENING_KINDS] });
  const reduced = await reduceWhole(context, DRIVE, choices);
  const lite = bareLite(reduced);
  const oc = await startOcct();
  const { solids } = readSolids(oc, lite);
  const { ratio, a } = await compare(
    () => seal(context, lite, reduced, { way: 'exact', within: 0.1, keepFaces: [], standOff: null }),
    () => fused(oc, solids),
    3,
    1,
  );
  await kernel.close();
  return [
    {
      what: 'Sealing the drive, once its bodies are filled',
      against: 'the kernel’s one bare boolean of the same bodies',
      ratio,
      goal: { most: 1.5 },
      note: `${solids.length} bodies are left of ${reduced.whole.bodies.length}; ${(a / 1000).toFixed(1)} s: reading, uniting, checking, meshing, pins, writing`,
    },
  ];
}
