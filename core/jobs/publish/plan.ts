import { PNG } from 'pngjs';
import { baseName, stemOf } from '#core/files/links/paths';
import { wholeOf } from '#core/geometry/reduce/reduce';
import { meshOfWhole } from '#core/geometry/reduce/whole-mesh';
import { meshVolume } from '#core/geometry/shape/doubt';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { writeMesh } from '#core/geometry/shape/mesh-files';
import { MESH_FORMATS } from '#core/geometry/shape/mesh-formats';
import { drawPortrait } from '#core/geometry/shape/portrait';
import { faceCount, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import { meshOfBody } from '#core/geometry/whole/whole';
import type { OfferedFiles, Planned } from '#core/planned';
import type { PlanContext } from '#core/planning';
import { type Box, sidesOf } from '#core/product/box';
import { IDENTITY } from '#core/product/matrix';
import { MANIFEST_NAME } from '#core/project/formats/manifest';
import { Refusal } from '#core/refusal';
import type { PublishChoices } from './choices';
import { outsideFiles } from './outside-files';

/** What would be offered. */
export interface PublishOutline {
  title: string;
  facts: PublishedFacts;
  /** Of files that are made besides STEP. */
  formats: readonly string[];
}

/** What the catalogue says of a file. */
export interface PublishedFacts {
  /** Sides of its box, mm. */
  sides: [number, number, number];
  faces: number;
  /** mm³; what was published before this was said has none. */
  volume?: number;
  bytes: number;
  /** Names of the faces that it is mounted by. */
  mounting: string[];
}

const PICTURE = { width: 720, height: 480 };
const COLOUR = [160, 168, 172] as const;
/** More triangles are no light model any more. */
const MOST_TRIANGLES = 2_000_000;

/**
 * Plans to offer a file.
 * @throws Refusal for a file that was not made for outside, has no shape, or whose shapes are still being prepared
 */
export async function planPublish(
  context: PlanContext,
  { file: path, title: wanted }: PublishChoices,
): Promise<Planned<PublishOutline>> {
  const { project, draft } = context;
  const file = project.files.get(path);
  if (!file) throw new Refusal(`There is no file ${path}.`);
  const made = draft.has(MANIFEST_NAME) ? outsideFiles(await draft.read(MANIFEST_NAME), project) : [];
  const found = made.find((file) => file.path === path);
  if (!found)
    throw new Refusal(
      `${path} was not made for outside: it may tell of the inside. Make a lite model for outside first.`,
    );
  const whole = await wholeOf(context, path);
  const mesh = meshOfWhole(whole);
  const triangles = mesh.triangles.length / 3;
  if (triangles === 0) throw new Refusal(`${path} has no shape that could be shown.`);
  if (triangles > MOST_TRIANGLES)
    throw new Refusal(`${path} has ${triangles} triangles: make it lighter before it is published.`);
  const { box } = whole;
  const facts: PublishedFacts = {
    sides: sidesOf(box).map((side) => Number(side.toFixed(2))) as PublishedFacts['sides'],
    faces: whole.bodies.reduce((sum, _, n) => sum + faceCount(meshOfBody(whole, n)), 0),
    volume: Number(meshVolume(mesh).toPrecision(6)),
    bytes: file.bytes,
    mounting: found.mounting,
  };
  const title = wanted ?? stemOf(path);
  return {
    change: await draft.finish(`Published ${path} in the catalogue`),
    preview: { title, facts, formats: MESH_FORMATS },
    offer: {
      path,
      title,
      write: async () => ({ facts, ...(await filesOf(context, path, mesh, box)) }),
    },
  };
}

async function filesOf(
  { draft, progress }: PlanContext,
  path: string,
  mesh: SolidMesh,
  box: Box,
): Promise<Omit<OfferedFiles, 'facts'>> {
  const steps = MESH_FORMATS.length + 1;
  const files = [{ format: 'step', name: baseName(path), content: await draft.read(path) }];
  for (const [n, format] of MESH_FORMATS.entries()) {
    await progress(`Writing ${format.toUpperCase()}`, n, steps);
    files.push({ format, name: `${stemOf(path)}.${format}`, content: await writeMesh(mesh, format) });
  }
  await progress('Drawing the picture', MESH_FORMATS.length, steps);
  const geometry: GeometryOfBody = {
    positions: mesh.positions,
    faceGroups: new Uint32Array(0),
    levels: [{ triangles: mesh.triangles, error: 0 }],
    box,
  };
  const drawn = drawPortrait([{ geometry, colour: COLOUR, placements: [IDENTITY] }], PICTURE);
  return { picture: PNG.sync.write(Object.assign(new PNG(PICTURE), { data: Buffer.from(drawn) })), files };
}
