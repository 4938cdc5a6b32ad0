import { meshBodies } from '#core/geometry/bodies/measure';
import type { PlanContext } from '#core/planning';
import { Draft } from '#core/project/change/draft';
import { sha256 } from '#core/project/change/file-set';
import { scanContent } from '#core/project/scan/content';
import { resolveProject } from '#core/project/scan/project';

/**
 * What a plan works with to look at a file as it stands on the draft. Of a file that was only just made nobody knows the shapes: the kernel
 * meshes it. A file for outside places no other, so it is a project by itself.
 * @param bytes of the file
 */
export function contextOfContent(context: PlanContext, path: string, bytes: Uint8Array): PlanContext {
  const digest = sha256(bytes);
  if (context.project.files.get(path)?.sha256 === digest) return context;
  const { kernel, signal } = context;
  const project = resolveProject([
    { path, bytes: bytes.byteLength, sha256: digest, scan: scanContent(path, bytes) },
  ]);
  return {
    ...context,
    project,
    draft: new Draft({ read: async () => bytes }, project),
    meshes: () => context.remember(`meshes of ${digest}`, () => meshBodies(kernel, bytes, { signal })),
  };
}
