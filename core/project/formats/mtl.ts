import { EncodedText } from './encoded-text';
import type { LinkFormat, WrittenLink } from './link-format';
import { rewritePlaces, WrittenPlaces } from './written-places';

/** MTL: the materials of an OBJ, which take images by `map_Kd` and its like. */
export const MTL: LinkFormat = {
  name: 'mtl',
  version: 7,
  links: readMtl,
  rewrite(bytes, holder, retargets) {
    const text = new EncodedText(bytes);
    return rewritePlaces(bytes, holder, retargets, readMtl, (written) => text.encode(beginning(written)));
  },
};

const IMAGES = /^[ \t]*(?:map_\w+|bump|disp|decal|refl|norm)[ \t]+([^\r\n]*[^\s])/gim;
const NUMBER = String.raw`[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?`;
/** An option before the name, with its arguments. A number that ends the line is the name. */
const OPTION = new RegExp(
  [
    String.raw`-(?:blendu|blendv|clamp|cc)\s+(?:on|off)\s+`,
    String.raw`-(?:boost|bm|texres)\s+${NUMBER}\s+`,
    String.raw`-mm\s+${NUMBER}\s+(?:${NUMBER}\s+)?`,
    String.raw`-[ost]\s+${NUMBER}\s+(?:${NUMBER}\s+){0,2}`,
    String.raw`-imfchan\s+[rgbmlz]\s+`,
    String.raw`-type\s+\w+\s+`,
  ].join('|'),
  'iy',
);

function readMtl(bytes: Uint8Array): WrittenLink[] {
  const links = new WrittenPlaces();
  const encoded = new EncodedText(bytes);
  for (const { 0: line, 1: argument = '', index } of encoded.text.matchAll(IMAGES)) {
    const from = index + line.length - argument.length;
    let start = 0;
    for (OPTION.lastIndex = 0; OPTION.test(argument); ) start = OPTION.lastIndex;
    const [at, end] = [from + start, from + argument.length];
    links.add('resource', encoded.range(at, end), withoutDot(encoded.decoded(at, end)));
  }
  return links.all();
}

/** A name that begins like an option is written with the folder that it lies in. */
function beginning(written: string): string {
  return written.startsWith('-') ? `./${written}` : written;
}

function withoutDot(name: string): string {
  return name.startsWith('./-') ? name.slice(2) : name;
}
