import { CodePage } from './code-pages';
import { type Group, readGroups } from './dxf-groups';
import type { LinkFormat, WrittenLink } from './link-format';
import { rewritePlaces, WrittenPlaces } from './written-places';

/**
 * DXF, as text and binary (DXF Reference, group codes; binary DXF): drawings that take in other drawings as blocks from outside, images, and
 * pages of other formats as underlays. A drawing says which model it shows by a property of the document, `dcterms:references`
 * (docs/link-formats.md): programs that do not know it keep it.
 */
export const DXF: LinkFormat = {
  name: 'dxf',
  version: 1,
  links: (bytes) => readDxf(bytes).links,
  rewrite(bytes, holder, retargets) {
    const { page } = readDxf(bytes);
    return rewritePlaces(
      bytes,
      holder,
      retargets,
      (after) => readDxf(after).links,
      (written) => encoded(written, page),
    );
  },
};

/** Name of the document property that says which model a drawing shows, as in SVG. */
export const REFERENCES = 'dcterms:references';

/** Flags of a block: from outside, taken in or laid over. */
const FROM_OUTSIDE = 4 | 8;
/** Objects whose group 1 names a file. */
const NAMING = new Set(['IMAGEDEF', 'PDFDEFINITION', 'DWFDEFINITION', 'DGNDEFINITION']);
/** Versions from this one on are in UTF-8. */
const UNICODE_SINCE = 'AC1021';

/** What is open while the groups go by. */
interface Reading {
  links: WrittenPlaces;
  page: CodePage;
  version: string;
  /** Kind of the entity, object or section mark that the groups belong to. */
  kind: string;
  /** Header variable. */
  variable: string;
  /** Whether the last property's name was the one that says what a drawing shows. */
  isReference: boolean;
  flags: number;
  path: Group | undefined;
}

/** @throws Error that says where and what, when it is no DXF or ends too early */
function readDxf(bytes: Uint8Array): { links: WrittenLink[]; page: CodePage } {
  const reading: Reading = {
    links: new WrittenPlaces(),
    page: new CodePage('ANSI_1252'),
    version: '',
    kind: '',
    variable: '',
    isReference: false,
    flags: 0,
    path: undefined,
  };
  for (const group of readGroups(bytes)) {
    if (group.code === 0) {
      noteBlock(reading, bytes);
      Object.assign(reading, { kind: latin(bytes, group), flags: 0, path: undefined, variable: '' });
    } else if (group.code === 9) reading.variable = latin(bytes, group);
    else if (reading.variable !== '') readVariable(reading, bytes, group);
    else if (group.code === 70 && reading.kind === 'BLOCK') reading.flags = group.number ?? 0;
    else if (group.code === 1 && reading.kind === 'BLOCK') reading.path ??= group;
    else if (group.code === 1 && NAMING.has(reading.kind)) {
      note(reading, bytes, 'resource', group);
      // Some of these have a second one, which names no file.
      reading.kind = '';
    }
  }
  noteBlock(reading, bytes);
  return { links: reading.links.all(), page: reading.page };
}

/** The path of a block stands before or behind its flags. */
function noteBlock(reading: Reading, bytes: Uint8Array): void {
  if (reading.kind === 'BLOCK' && reading.path && (reading.flags & FROM_OUTSIDE) !== 0)
    note(reading, bytes, 'resource', reading.path);
}

function readVariable(reading: Reading, bytes: Uint8Array, group: Group): void {
  const text = () => latin(bytes, group);
  switch (reading.variable) {
    case '$ACADVER':
      reading.version = text();
      if (reading.version >= UNICODE_SINCE) reading.page = new CodePage('utf-8');
      break;
    case '$DWGCODEPAGE':
      if (reading.version < UNICODE_SINCE) reading.page = new CodePage(text());
      break;
    case '$CUSTOMPROPERTYTAG':
      reading.isReference = text() === REFERENCES;
      break;
    case '$CUSTOMPROPERTY':
      if (reading.isReference) note(reading, bytes, 'drawing', group);
      reading.isReference = false;
  }
}

function note({ links, page }: Reading, bytes: Uint8Array, kind: 'drawing' | 'resource', place: Group): void {
  const written = page
    .decode(bytes.subarray(place.start, place.end))
    .replace(/\\U\+([0-9A-Fa-f]{4})/g, (_, digits: string) =>
      String.fromCharCode(Number.parseInt(digits, 16)),
    );
  if (written.trim() !== '' && !/^[a-z][a-z0-9+.-]+:\/\//i.test(written)) links.add(kind, place, written);
}

function latin(bytes: Uint8Array, { start, end }: Group): string {
  return Buffer.from(bytes.buffer, bytes.byteOffset + start, end - start)
    .toString('latin1')
    .trim();
}

/** What the code page cannot say stands as `\U+` and four digits. */
function encoded(text: string, page: CodePage): Uint8Array {
  const bytes: number[] = [];
  for (const character of text) {
    const own = page.encode(character);
    if (own) bytes.push(...own);
    else
      for (let n = 0; n < character.length; n++)
        bytes.push(
          ...Buffer.from(`\\U+${character.charCodeAt(n).toString(16).toUpperCase().padStart(4, '0')}`),
        );
  }
  return Uint8Array.from(bytes);
}
