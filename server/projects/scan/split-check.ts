import { SourcePart } from '#core/geometry/bodies/source-part';
import {
  compareSums,
  type SplitCheck,
  type SplitCheckRequest,
  sumOfAssembly,
  sumOfBodies,
} from '#core/jobs/split/check';
import { Refusal } from '#core/refusal';
import { getBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { measuredBodies, requestShapes } from '#server/jobs/shapes';
import { loadProject } from './project-scan';

/**
 * Holds the result of a split against its source, by what the kernel measured of the new files.
 * @returns null while the job worker has not measured all of them
 * @throws Refusal when source or assembly are not there
 */
export async function checkSplit(
  db: Database,
  projectId: string,
  { sha256, bodies, product, assembly }: SplitCheckRequest,
): Promise<SplitCheck | null> {
  const project = await loadProject(db, projectId);
  const version = await db('versions').where({ project_id: projectId, sha256 }).first('sha256');
  if (!version || !project.files.has(assembly))
    throw new Refusal('What shall be compared is no longer there.');
  const before = await measuredBodies(db, sha256);
  const after = await sumOfAssembly(
    async (path) => measuredBodies(db, project.files.get(path)!.sha256),
    project,
    assembly,
  );
  if (!before || !after) {
    await requestShapes(db, project);
    return null;
  }
  const wanted = new Set(bodies);
  const source = new SourcePart(assembly, await getBlob(db, sha256), product);
  return compareSums(
    sumOfBodies(
      source.bodies.filter(({ id }) => wanted.has(id)),
      before,
    ),
    after,
  );
}
