import { type GeometryOfBody, unpackGltf } from '#core/geometry/shape/gltf';
import type { PortraitBody } from '#core/geometry/shape/portrait';
import { structureTable } from '#core/project/scan/structure-table';
import { getBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { portraitAssemblies, portraitStates, portraitsOf } from '#server/jobs/portraits';
import { shapesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { channelsOf, drawnPicture, PORTRAIT } from './content-picture';

/** More than a small picture can show. */
const MOST = { rows: 10_000, instances: 20_000 };

/** Draws a picture of each assembly of a project that is not what it was when it was drawn, of what has a shape. */
export async function makePortraits(db: Database, projectId: string): Promise<void> {
  if (!(await db('projects').where('id', projectId).first('id'))) return;
  const project = await loadProject(db, projectId);
  const shapes = await shapesOf(db, project, projectId);
  const known = await portraitsOf(db, projectId);
  const read = new Map<string, Promise<Map<number, GeometryOfBody>>>();
  const geometries = (gltf: string) => {
    const known = read.get(gltf) ?? getBlob(db, gltf).then(unpackGltf);
    read.set(gltf, known);
    return known;
  };
  const assemblies = portraitAssemblies(project);
  const stateOf = portraitStates(project, shapes);
  for (const path of assemblies) {
    const shows = stateOf(path);
    if (known.get(path)?.shows === shows) continue;
    const { bodies, instances } = structureTable(project, path, true, MOST);
    const drawn: (PortraitBody & { placements: PortraitBody['placements'][number][] })[] = [];
    const places = new Map<number, number>();
    for (const [n, { sha256, body, colour }] of bodies.entries()) {
      const gltf = shapes.get(sha256)?.gltf;
      const geometry = gltf ? (await geometries(gltf)).get(body) : undefined;
      if (geometry) places.set(n, drawn.push({ geometry, colour: channelsOf(colour), placements: [] }) - 1);
    }
    for (const { body, placement } of instances) drawn[places.get(body) ?? -1]?.placements.push(placement);
    const shown = drawn.filter(({ placements }) => placements.length > 0);
    const image = drawnPicture(shown, PORTRAIT);
    await db('portraits')
      .insert({ project_id: projectId, path, shows, image })
      .onConflict(['project_id', 'path'])
      .merge();
  }
  await db('portraits').where('project_id', projectId).whereNotIn('path', assemblies).delete();
}
