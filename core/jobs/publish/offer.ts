import { PNG } from 'pngjs';
import { baseName, stemOf } from '#core/files/links/paths';
import { wholeOf } from '#core/geometry/reduce/read-whole';
import { meshOfWhole } from '#core/geometry/reduce/whole-mesh';
import { meshVolume } from '#core/geometry/shape/doubt';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { writeMesh } from '#core/geometry/shape/mesh-files';
import { MESH_FORMATS } from '#core/geometry/shape/mesh-formats';
import { drawPortrait } from '#core/geometry/shape/portrait';
import { faceCount, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import { meshOfBody } from '#core/geometry/whole/whole';
import type { Offer, OfferedFiles } from '#core/planned';
import type { PlanContext, Progress } from '#core/planning';
import { type Box, sidesOf } from '#core/product/box';
import { IDENTITY } from '#core/product/matrix';
import { sha256 } from '#core/project/change/file-set';
import type { PublishedFacts } from '#core/project/change/published-facts';
import { MANIFEST_NAME } from '#core/project/formats/manifest';
import { Refusal } from '#core/refusal';
import { OFFERED_FORMATS, type OfferedFormat, type PublishChoices } from './choices';
import { contextOfContent } from './content';
import { type FaceToOffer, mountingOf } from './mounting';
import { outsideFiles } from './outside-files';

/** What would be offered of a file. */
export interface OfferOutline {
  file: string;
  title: string;
  facts: PublishedFacts;
  formats: OfferedFormat[];
  /** Faces that its page names, or could. */
  faces: FaceToOffer[];
}

const PICTURE = { width: 720, height: 480 };
const COLOUR = [160, 168, 172] as const;
/** More triangles are no light model any more. */
const MOST_TRIANGLES = 2_000_000;

/**
 * What would be offered of a file as it stands on the draft.
 * @throws Refusal for a file that was not made for outside, has no shape, or whose shapes are still being prepared
 */
export async function offerOf(
  context: PlanContext,
  asked: PublishChoices,
): Promise<{ outline: OfferOutline; offer: Offer }> {
  const { project, draft, progress } = context;
  const { file: path, partNumber, conditions } = asked;
  if (!project.files.has(path)) throw new Refusal(`There is no file ${path}.`);
  const made = draft.has(MANIFEST_NAME) ? outsideFiles(await draft.read(MANIFEST_NAME), project) : [];
  const found = made.find((file) => file.path === path);
  if (!found)
    throw new Refusal(
      `${path} was not made for outside: it may tell of the inside. Make a lite model for outside first.`,
    );
  const bytes = await draft.read(path);
  const own = contextOfContent(context, path, bytes);
  const whole = await wholeOf(own, path);
  const mesh = meshOfWhole(whole);
  const triangles = mesh.triangles.length / 3;
  if (triangles === 0) throw new Refusal(`${path} has no shape that could be shown.`);
  if (triangles > MOST_TRIANGLES)
    throw new Refusal(`${path} has ${triangles} triangles: make it lighter before it is published.`);
  const { box } = whole;
  const mounting = await mountingOf(own, whole, path, asked.mounting, found.kept);
  const facts: PublishedFacts = {
    sides: sidesOf(box).map((side) => Number(side.toFixed(2))) as PublishedFacts['sides'],
    faces: whole.bodies.reduce((sum, _, n) => sum + faceCount(meshOfBody(whole, n)), 0),
    volume: Number(meshVolume(mesh).toPrecision(6)),
    bytes: bytes.byteLength,
    mounting: mounting.faces,
    ...(partNumber !== '' && { partNumber }),
    ...(conditions !== '' && { conditions }),
  };
  const title = asked.title ?? stemOf(path);
  const formats = OFFERED_FORMATS.filter((format) => asked.formats.includes(format));
  const named = mounting.candidates.flatMap(({ size: _, isOffered, ...face }) => (isOffered ? [face] : []));
  return {
    outline: { file: path, title, facts, formats, faces: mounting.candidates },
    offer: {
      path,
      title,
      sha256: sha256(bytes),
      madeFrom: found.sources,
      choices: { ...asked, title, formats, mounting: asked.mounting && named },
      write: async () => ({ facts, ...(await filesOf(progress, { path, bytes, mesh, box }, formats)) }),
    },
  };
}

async function filesOf(
  progress: Progress,
  { path, bytes, mesh, box }: { path: string; bytes: Uint8Array; mesh: SolidMesh; box: Box },
  formats: readonly OfferedFormat[],
): Promise<Omit<OfferedFiles, 'facts'>> {
  const steps = formats.length + 1;
  const files: OfferedFiles['files'] = [];
  for (const [n, format] of formats.entries()) {
    await progress(`Writing ${format.toUpperCase()}`, n, steps);
    const meshFormat = MESH_FORMATS.find((one) => one === format);
    files.push(
      meshFormat
        ? { format, name: `${stemOf(path)}.${format}`, content: await writeMesh(mesh, meshFormat) }
        : { format, name: baseName(path), content: bytes },
    );
  }
  await progress('Drawing the picture', formats.length, steps);
  const geometry: GeometryOfBody = {
    positions: mesh.positions,
    faceGroups: new Uint32Array(0),
    levels: [{ triangles: mesh.triangles, error: 0 }],
    box,
  };
  const drawn = drawPortrait([{ geometry, colour: COLOUR, placements: [IDENTITY] }], PICTURE);
  return { picture: PNG.sync.write(Object.assign(new PNG(PICTURE), { data: Buffer.from(drawn) })), files };
}
