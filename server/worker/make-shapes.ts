import { unpackedStep } from '#core/files/archive/packed-step';
import { Part21File } from '#core/files/part21/file';
import type { BodyShape } from '#core/geometry/shape/body-shape';
import { geometryDigest } from '#core/geometry/shape/geometry-digest';
import { packGltf } from '#core/geometry/shape/gltf';
import type { Kernel } from '#core/geometry/shape/kernel';
import type { FileFacts } from '#core/project/formats/link-format';
import { getBlob, putBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { storedJson } from '#server/db/stored-text';
import { announce } from '#server/events/events';
import { type BodyShapeFacts, extensionOfContent, SHAPE_KEY } from '#server/jobs/shapes';
import { scanStored } from '#server/projects/scan/project-scan';
import { partPicture } from './content-picture';

/** Milliseconds between two signs of life. */
const LIFE_PAUSE = 4000;

/** Meshes and measures one content. Runs in the job worker. */
export async function makeShapes(
  db: Database,
  kernel: Kernel,
  { sha256, extension }: { sha256: string; extension: string },
): Promise<void> {
  const row = () => db('shapes').where({ ...SHAPE_KEY, sha256 });
  const state = await row().first('state');
  if (!state || state.state === 'done' || state.state === 'cancelled') return;
  const projects: { project_id: string }[] = await db('files').where('sha256', sha256).distinct('project_id');
  const tell = async (state: string, done: number, total: number) => {
    for (const { project_id } of projects)
      await announce(db, { project: project_id, type: 'shape', sha256, state, done, total });
  };
  const scan = await scanStored(db, `content.${extension}`, sha256);
  const bodies = scan.products.flatMap((product) => product.bodies.map(({ id }) => id));
  const total = bodies.length;
  const content = unpackedStep(await getBlob(db, sha256));
  const geometry = digestOf(content, bodies);
  if (geometry !== null && (await takeOver(db, { sha256, scan }, geometry))) {
    await tell('done', total, total);
    return;
  }
  const begun = await row()
    .whereNot('state', 'running')
    .update({ state: 'running', total, done: 0, alive: db.fn.now(), attempts: db.raw('attempts + 1') });
  // Another worker is at it.
  if (begun === 0) return;
  const alive = setInterval(() => {
    void row()
      .update({ alive: db.fn.now() })
      .catch(() => {});
  }, LIFE_PAUSE);
  await tell('running', 0, total);

  const cancelled = new AbortController();
  let reporting = Promise.resolve();
  const shaping = kernel.shapeBodies(content, bodies, {
    signal: cancelled.signal,
    onBody: (done) => {
      reporting = reporting.then(async () => {
        const still = await row().where('state', 'running').update({ done });
        if (still === 0) cancelled.abort();
        if (done % 5 === 0) await tell('running', done, total);
      });
    },
  });
  const shapes = await shaping.finally(() => clearInterval(alive));
  await reporting;
  const facts: BodyShapeFacts[] = shapes.map((shape) =>
    'facts' in shape ? { body: shape.body, facts: shape.facts } : { body: shape.body, error: shape.error },
  );
  const failed = shapes.length > 0 && shapes.every((shape) => 'error' in shape);
  const isDrawn = shapes.some((shape) => shape.mesh) || shapes.length === 0;
  const packed = isDrawn ? await packGltf(shapes) : null;
  const gltf = packed && (await putBlob(db, packed));
  await row().update({
    state: failed ? 'failed' : 'done',
    done: total,
    geometry,
    gltf,
    bodies: storedJson(facts),
    features: storedJson(byBody(shapes, 'features')),
    exact: storedJson(byBody(shapes, 'exact')),
    picture: packed && (await partPicture(scan, packed)),
    error: failed ? (facts[0]?.error ?? null) : null,
  });
  await tell(failed ? 'failed' : 'done', total, total);
}

function byBody<Key extends 'features' | 'exact'>(shapes: readonly BodyShape[], key: Key) {
  return Object.fromEntries(shapes.flatMap((shape) => ('facts' in shape ? [[shape.body, shape[key]]] : [])));
}

/** Null for a content that only the kernel may make something of. */
function digestOf(content: Uint8Array, bodies: readonly number[]): string | null {
  try {
    return geometryDigest(Part21File.read(content), bodies);
  } catch {
    return null;
  }
}

/** Takes the shapes of another content of the same geometry: one whose names or links were others. @returns whether there was one */
async function takeOver(
  db: Database,
  { sha256, scan }: { sha256: string; scan: Pick<FileFacts, 'products'> },
  geometry: string,
): Promise<boolean> {
  const other = await db('shapes')
    .where({ ...SHAPE_KEY, geometry, state: 'done' })
    .first('total', 'gltf', 'bodies', 'features', 'exact');
  if (!other) return false;
  const taken = await db('shapes')
    .where({ ...SHAPE_KEY, sha256 })
    .whereNot('state', 'cancelled')
    .update({
      state: 'done',
      geometry,
      total: other.total,
      done: other.total,
      gltf: other.gltf,
      bodies: storedJson(other.bodies),
      features: storedJson(other.features),
      exact: storedJson(other.exact),
      // Its colours may be others.
      picture: other.gltf && (await partPicture(scan, await getBlob(db, other.gltf))),
    });
  return taken > 0;
}

/** A job that failed for good, not just one of its bodies. */
export async function failShapes(db: Database, sha256: string, error: string): Promise<void> {
  await db('shapes')
    .where({ ...SHAPE_KEY, sha256 })
    .whereNot('state', 'cancelled')
    .update({ state: 'failed', error });
}

/** Draws pictures of contents whose shapes were made before there were any. @param most at once @returns how many */
export async function drawMissingPictures(db: Database, most: number): Promise<number> {
  const missing: { sha256: string; gltf: string; extension: string | null }[] = await db('shapes')
    .where({ ...SHAPE_KEY, state: 'done', picture: null })
    .whereNotNull('gltf')
    .where('total', '>', 0)
    .limit(most)
    .select('sha256', 'gltf', extensionOfContent(db));
  for (const { sha256, gltf, extension } of missing) {
    const scan = extension === null ? null : await scanStored(db, `content.${extension}`, sha256);
    // A content that no file has any more gets none, and is not looked for again.
    const picture = scan ? await partPicture(scan, await getBlob(db, gltf)) : Buffer.alloc(0);
    await db('shapes')
      .where({ ...SHAPE_KEY, sha256 })
      .update({ picture });
  }
  return missing.length;
}
