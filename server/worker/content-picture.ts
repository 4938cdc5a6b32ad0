import { PNG } from 'pngjs';
import { unpackGltf } from '#core/geometry/shape/gltf';
import { drawPortrait, type PortraitBody } from '#core/geometry/shape/portrait';
import { IDENTITY } from '#core/product/matrix';
import type { FileFacts } from '#core/project/formats/link-format';

/** Pixels of a portrait of a root assembly: twice what the list of projects shows, for screens that have them. */
export const PORTRAIT = { width: 360, height: 240 };
/** Of a file: twice what its facts show. */
const SMALL = { width: 240, height: 180 };
const NOTHING = Buffer.alloc(0);
/** What the file gives no colour. */
const PLAIN = '#b4b8ba';

/** Bodies seen from the corner, as PNG; null where there are none. */
export function drawnPicture(bodies: readonly PortraitBody[], size: typeof PORTRAIT): Buffer | null {
  if (bodies.length === 0) return null;
  const data = Buffer.from(drawPortrait(bodies, size));
  return PNG.sync.write(Object.assign(new PNG(size), { data }));
}

/** Red, green, blue, each 0 to 255. @param colour `#rrggbb` */
export function channelsOf(colour: string | null): [number, number, number] {
  return [1, 3, 5].map((at) => Number.parseInt((colour ?? PLAIN).slice(at, at + 2), 16)) as [
    number,
    number,
    number,
  ];
}

/** A picture of the part that a content holds, as PNG; empty where it holds several, which stand elsewhere than they are written. */
export async function partPicture(
  { products }: Pick<FileFacts, 'products'>,
  gltf: Uint8Array,
): Promise<Buffer> {
  const parts = products.filter(({ bodies }) => bodies.length > 0);
  if (parts.length !== 1) return NOTHING;
  const geometries = await unpackGltf(gltf);
  const bodies = parts[0]!.bodies.flatMap(({ id, colour }) => {
    const geometry = geometries.get(id);
    return geometry ? [{ geometry, colour: channelsOf(colour), placements: [IDENTITY] }] : [];
  });
  return drawnPicture(bodies, SMALL) ?? NOTHING;
}
