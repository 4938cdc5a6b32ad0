import { EncodedText } from './encoded-text';
import type { LinkFormat, WrittenLink } from './link-format';
import { rewritePlaces, WrittenPlaces } from './written-places';

/** Wavefront OBJ: shapes as facets, which take their materials from libraries named by `mtllib`. */
export const OBJ: LinkFormat = {
  name: 'obj',
  version: 7,
  links: readObj,
  rewrite(bytes, holder, retargets) {
    const text = new EncodedText(bytes);
    return rewritePlaces(bytes, holder, retargets, readObj, (written) => text.encode(written));
  },
};

const LIBRARIES = /^[ \t]*mtllib[ \t]+([^\r\n]*[^\s])/gm;
/** Several libraries stand in one line, and names may hold blanks: each ends with its ending, and the rest is one. */
const LIBRARY = /\S.*?\.mtl(?=\s|$)|\S.*$/gi;

function readObj(bytes: Uint8Array): WrittenLink[] {
  const links = new WrittenPlaces();
  const encoded = new EncodedText(bytes);
  for (const { 0: line, 1: names = '', index } of encoded.text.matchAll(LIBRARIES)) {
    const from = index + line.length - names.length;
    for (const { 0: name, index: at } of names.matchAll(LIBRARY)) {
      const [start, end] = [from + at, from + at + name.length];
      links.add('resource', encoded.range(start, end), encoded.decoded(start, end));
    }
  }
  return links.all();
}
