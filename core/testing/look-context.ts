import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import type { MemoryFileSet } from '#core/project/change/memory';
import type { Project } from '#core/project/scan/project';
import { scanFileSet } from '#core/project/scan/scan';
import { Refusal } from '#core/refusal';
import type { LookContext } from '#core/report';

/**
 * What a report has to look at, for tests: files in memory, and what is said to have been measured of them.
 * @param older the files at another moment, by its name
 */
export function lookContext(
  files: MemoryFileSet,
  {
    measured = () => undefined,
    older = {},
  }: {
    measured?: (path: string, project: Project) => ReadonlyMap<number, MeasuredBody> | undefined;
    older?: { [moment: string]: MemoryFileSet };
  } = {},
): LookContext {
  const refuse = async (): Promise<never> => {
    throw new Refusal('That is not there.');
  };
  return {
    files,
    project: (searchFolders) => scanFileSet(files, searchFolders ? { searchFolders } : {}),
    measured: async (path) => measured(path, await scanFileSet(files)) ?? refuse(),
    meshes: refuse,
    unpacked: refuse,
    history: async () => [],
    moment: async (name) => (older[name] ? scanFileSet(older[name]) : refuse()),
    progress: async () => {},
    signal: new AbortController().signal,
  };
}
