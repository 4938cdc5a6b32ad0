import { measureBodies, meshBodies } from '#core/geometry/bodies/measure';
import { SourcePart } from '#core/geometry/bodies/source-part';
import type { Kernel } from '#core/geometry/shape/kernel';
import { type PlanContext, planningOn } from '#core/planning';
import type { MemoryFileSet } from '#core/project/change/memory';
import { unpackInMemory } from '#core/project/change/unpack';
import { scanFileSet } from '#core/project/scan/scan';

/**
 * What an operation has to work with, for tests: files in memory, the real kernel.
 * @param made what is kept between contexts: shapes, and what plans remember
 */
export async function testContext(
  files: MemoryFileSet,
  kernel: Kernel,
  made = new Map<string, Promise<unknown>>(),
): Promise<PlanContext> {
  const project = await scanFileSet(files);
  const remembered = <Made>(key: string, make: () => Promise<Made>) => {
    const known = made.get(key) ?? make();
    made.set(key, known);
    return known as Promise<Made>;
  };
  const sha = (path: string) => project.files.get(path)?.sha256;
  return {
    ...planningOn(project, files, { now: new Date('2026-11-27T12:00:00Z') }),
    kernel,
    signal: new AbortController().signal,
    measured: (path) =>
      remembered(`measured ${path} ${sha(path)}`, async () =>
        measureBodies(kernel, new SourcePart(path, await files.read(path))),
      ),
    meshes: (path) =>
      remembered(`meshes ${path} ${sha(path)}`, async () => meshBodies(kernel, await files.read(path))),
    olderVersion: async () => undefined,
    inverseOf: async () => {
      throw new Error('Nothing is taken back here.');
    },
    received: async () => [],
    isUntouched: false,
    unpacked: async (zip) => unpackInMemory(await zip.read()),
    scansOf: async () => new Map(),
    remember: (key, make) => remembered(key, make),
  };
}
