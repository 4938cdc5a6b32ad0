import { type JSONVisitor, visit } from 'jsonc-parser';
import { splice } from '#core/files/part21/splice';
import type { LinkFormat, WrittenLink, WrittenPlace } from './link-format';
import { pathAsReference, pathInReference } from './uri-reference';
import { rewritePlaces, WrittenPlaces } from './written-places';

/** glTF 2.0, as JSON or as GLB with the JSON in its first chunk: buffers and images in files of their own (5.8 and 5.18, `uri`). */
export const GLTF: LinkFormat = {
  name: 'gltf',
  recognises: isBinary,
  version: 7,
  links: readGltf,
  rewrite(bytes, holder, retargets) {
    const { start, end } = jsonOf(bytes);
    const { bytes: json, rewritten } = rewritePlaces(
      bytes.subarray(start, end),
      holder,
      retargets,
      linksInJson,
      (written) => Buffer.from(JSON.stringify(pathAsReference(written)).slice(1, -1)),
    );
    return { bytes: isBinary(bytes) ? withChunk(bytes, json) : json, rewritten };
  },
};

/** Bytes of the header of a GLB, and of that of a chunk. */
const HEADER = 12;
const CHUNK = 8;
const JSON_CHUNK = 'JSON';

function isBinary(bytes: Uint8Array): boolean {
  return (
    bytes.byteLength >= HEADER + CHUNK && Buffer.from(bytes.subarray(0, 4)).toString('latin1') === 'glTF'
  );
}

/** Where the JSON stands. @throws Error when a GLB is not whole */
function jsonOf(bytes: Uint8Array): { start: number; end: number } {
  if (!isBinary(bytes)) return { start: 0, end: bytes.byteLength };
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [version, length, chunk] = [4, 8, HEADER].map((at) => view.getUint32(at, true)) as [
    number,
    number,
    number,
  ];
  const kind = Buffer.from(bytes.subarray(HEADER + 4, HEADER + CHUNK)).toString('latin1');
  if (version !== 2) throw new Error(`It is glTF ${version}; version 2 can be read.`);
  if (length > bytes.byteLength)
    throw new Error(`It ends after ${bytes.byteLength} bytes, and says that it has ${length}.`);
  const end = HEADER + CHUNK + chunk;
  if (kind !== JSON_CHUNK || end > length)
    throw new Error(`Byte ${HEADER}: expected the chunk of JSON that a GLB begins with.`);
  return { start: HEADER + CHUNK, end };
}

/** The file with another first chunk, filled up with blanks to four bytes, and the lengths that this makes. */
function withChunk(bytes: Uint8Array, json: Uint8Array): Uint8Array {
  const { start, end } = jsonOf(bytes);
  const text = Buffer.from(json).toString('latin1').replace(/ +$/, '');
  const content = Buffer.from(text.padEnd(Math.ceil(text.length / 4) * 4, ' '), 'latin1');
  const after = splice(bytes, [{ start, end, content }]);
  const view = new DataView(after.buffer, after.byteOffset, after.byteLength);
  view.setUint32(8, view.getUint32(8, true) + content.length - (end - start), true);
  view.setUint32(HEADER, content.length, true);
  return after;
}

function readGltf(bytes: Uint8Array): WrittenLink[] {
  const { start, end } = jsonOf(bytes);
  const links = linksInJson(bytes.subarray(start, end));
  const moved = (place: WrittenPlace) => ({ ...place, start: place.start + start, end: place.end + start });
  return links.map((link) => ({ ...link, places: link.places.map(moved) }));
}

/** @throws Error that says where the text is no JSON */
function linksInJson(bytes: Uint8Array): WrittenLink[] {
  const buffer = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const links = new WrittenPlaces();
  let property = '';
  let problem: string | undefined;
  const read = (offset: number, length: number) => {
    const reference: unknown = JSON.parse(buffer.toString('utf8', offset, offset + length));
    const named = typeof reference === 'string' ? pathInReference(reference) : undefined;
    if (named === undefined) return;
    const whole = buffer.toString('latin1', offset + 1, offset + length - 1);
    const path = /^[^?#]*/.exec(whole)![0];
    links.add('resource', { start: offset + 1, end: offset + 1 + path.length }, named);
  };
  // A character for a byte: offsets are those of bytes, and the JSON's own signs are ASCII.
  const text = buffer.toString('latin1');
  const visitor: JSONVisitor = {
    onObjectProperty: (name) => {
      property = name;
    },
    onLiteralValue: (_, offset, length, _line, _column, pathTo) => {
      if (property !== 'uri' || problem !== undefined) return;
      const [list, , last, ...more] = pathTo();
      if ((list === 'buffers' || list === 'images') && last === 'uri' && more.length === 0)
        read(offset, length);
    },
    onError: (_, _offset, _length, line, column) => {
      problem ??= `Line ${line + 1}, column ${column + 1}: this is no JSON.`;
    },
  };
  try {
    visit(text, visitor, { disallowComments: true });
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    problem ??= 'Its JSON is nested too deep to be read.';
  }
  if (problem !== undefined) throw new Error(problem);
  return links.all();
}
