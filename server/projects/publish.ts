import { randomBytes } from 'node:crypto';
import { PNG } from 'pngjs';
import { z } from 'zod';
import { baseName, stemOf } from '#core/files/links/paths';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { writeMesh } from '#core/geometry/shape/mesh-files';
import { MESH_FORMATS } from '#core/geometry/shape/mesh-formats';
import { drawPortrait } from '#core/geometry/shape/portrait';
import { faceCount } from '#core/geometry/shape/solid-mesh';
import { meshOfWhole } from '#core/geometry/whole/reduce/whole-mesh';
import { meshOfBody, wholeStructure, withMeshes } from '#core/geometry/whole/whole';
import { IDENTITY } from '#core/product/matrix';
import { Refusal } from '#core/refusal';
import { getBlob } from '#server/db/blobs';
import { storedJson } from '#server/db/stored-text';
import { meshesOf } from '#server/jobs/shapes';
import { type TaskContext, taskKind } from '#server/jobs/tasks';
import { loadProject } from './project-scan';
import { writeLog } from './projects';
import { filesForOutside, type PublishedFacts } from './publications';

/** What is offered, and under which title. */
export const PublishRequest = z.object({
  path: z.string().min(1).max(2000),
  title: z.string().trim().min(1, 'Give it a title.').max(120),
});
type PublishRequest = z.infer<typeof PublishRequest>;

/** Where it is offered: the end of the address of its page. */
export interface Published {
  token: string;
}

const PICTURE = { width: 720, height: 480 };
const COLOUR = [160, 168, 172] as const;
/** More triangles are no light model any more. */
const MOST_TRIANGLES = 2_000_000;

/**
 * Offers a file for download, to whoever has the address of its page; one that is offered already in its newest version.
 * @throws Refusal for a file that was not made for outside, or whose shapes are still being prepared
 */
async function publish(
  { db, project: projectId, user, report, finish }: TaskContext<Published>,
  { path, title }: PublishRequest,
): Promise<void> {
  const project = await loadProject(db, projectId);
  const found = (await filesForOutside(db, project)).find((one) => one.path === path);
  if (!found)
    throw new Refusal(
      `${path} was not made for outside: it may tell of the inside. Make a lite model for outside first.`,
    );
  const { sha256, bytes } = project.files.get(path)!;
  const whole = await withMeshes(wholeStructure(project, path), async (shape) => {
    const meshes = await meshesOf(db, shape.sha256);
    if (meshes) return meshes;
    throw new Refusal(
      `The shapes of ${shape.file} are still being prepared. Publish it when they are there.`,
    );
  });
  const mesh = meshOfWhole(whole);
  if (mesh.triangles.length === 0) throw new Refusal(`${path} has no shape that could be shown.`);
  if (mesh.triangles.length / 3 > MOST_TRIANGLES)
    throw new Refusal(
      `${path} has ${mesh.triangles.length / 3} triangles: make it lighter before it is published.`,
    );
  const name = stemOf(path);
  const files = [
    { format: 'step', name: baseName(path), content: (await getBlob(db, sha256)) as Uint8Array },
  ];
  for (const [n, format] of MESH_FORMATS.entries()) {
    await report(`Writing ${format.toUpperCase()}`, n, MESH_FORMATS.length + 1);
    files.push({ format, name: `${name}.${format}`, content: await writeMesh(mesh, format) });
  }
  const { box } = whole;
  const geometry: GeometryOfBody = {
    positions: mesh.positions,
    faceGroups: new Uint32Array(0),
    levels: [{ triangles: mesh.triangles, error: 0 }],
    box,
  };
  await report('Drawing the picture', MESH_FORMATS.length, MESH_FORMATS.length + 1);
  const drawn = drawPortrait([{ geometry, colour: COLOUR, placements: [IDENTITY] }], PICTURE);
  const image = PNG.sync.write(Object.assign(new PNG(PICTURE), { data: Buffer.from(drawn) }));
  const facts: PublishedFacts = {
    sides: [0, 1, 2].map((n) => Number((box[n + 3]! - box[n]!).toFixed(2))) as PublishedFacts['sides'],
    faces: whole.bodies.reduce((sum, _, n) => sum + faceCount(meshOfBody(whole, n)), 0),
    bytes,
    mounting: found.mounting,
  };
  await db.transaction(async (trx) => {
    // A file that is offered already keeps its address, and how often it was taken.
    const offered = await trx('publications')
      .where({ project_id: projectId, path })
      .whereNull('withdrawn')
      .forUpdate()
      .first('id', 'token');
    const token: string = offered?.token ?? randomBytes(18).toString('base64url');
    const row = { sha256, title, facts: storedJson(facts), image, user_id: user, time: trx.fn.now() };
    const [{ id }] = offered
      ? await trx('publications').where('id', offered.id).update(row).returning('id')
      : await trx('publications')
          .insert({ ...row, token, project_id: projectId, path })
          .returning('id');
    for (const { content, ...file } of files)
      await trx('publication_files')
        .insert({ publication_id: id, content: Buffer.from(content), ...file })
        .onConflict(['publication_id', 'format'])
        .merge(['content', 'name']);
    await writeLog(trx, projectId, user, 'publish', `Published ${path} in the catalogue`);
    await finish({ token }, { within: trx });
  });
}

/** Writes a file in every format of the catalogue, draws its picture, and offers it. */
export const PUBLISH = taskKind<PublishRequest, Published>({ request: PublishRequest, run: publish });
