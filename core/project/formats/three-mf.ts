import { decodeXML, escapeAttribute } from 'entities';
import { contentOf, withContents, type ZipPart, zipParts } from '#core/files/archive/zip-parts';
import { resolveSegments } from '#core/files/links/paths';
import { append } from '#core/multimap';
import { EncodedText } from './encoded-text';
import { type LinkFormat, linkOfKind, linksAnew, type WrittenLink } from './link-format';
import { walkMarkup } from './markup';
import { pathAsReference, pathInReference } from './uri-reference';
import { rewritePlaces, WrittenPlaces } from './written-places';

/**
 * 3MF: a package (ECMA-376-2) of models that refer to each other (3MF Production Extension, `p:path`) and to textures (Materials and
 * Properties Extension). All that stands in it belongs to it; a relationship with `TargetMode="External"` leads to another file.
 */
export const THREE_MF: LinkFormat = {
  name: '3mf',
  version: 7,
  links: (bytes) => linksOf(bytes),
  read(bytes, facts) {
    facts.links = linksOf(bytes);
    facts.damage = damageOf(bytes);
  },
  rewrite(bytes, holder, retargets) {
    const links = linksOf(bytes);
    const rewritten = linksAnew(links, holder, retargets).map(({ written }) => written);
    const contents = new Map<string, Uint8Array>();
    for (const part of relationshipsIn(bytes)) {
      const before = contentOf(bytes, part, MOST_RELATIONSHIPS);
      const own = linksInRelationships(before);
      const wanted = retargets.filter(({ kind, written }) =>
        linkOfKind(
          kind,
          own.filter((link) => link.written === written),
        ),
      );
      if (wanted.length === 0) continue;
      const text = new EncodedText(before);
      const encode = (written: string) => text.encode(escapeAttribute(pathAsReference(written)));
      contents.set(part.path, rewritePlaces(before, holder, wanted, linksInRelationships, encode).bytes);
    }
    return { bytes: withContents(bytes, contents), rewritten };
  },
};

/** Bytes of one list of relationships, and of one model that is looked through. */
const MOST_RELATIONSHIPS = 8 * 1024 * 1024;
const MOST_MODEL = 64 * 1024 * 1024;
/** Bytes of all models that are looked through. */
const MOST_MODELS = 128 * 1024 * 1024;

const RELATIONSHIPS = /(^|\/)_rels\/[^/]*\.rels$/i;
const MODEL = /\.model$/i;

const RELATIONSHIP = /^(?:.*:)?Relationship$/;
/** Elements of a model whose `path` leads to another entry of the package. */
const REFERRING = /^(?:.*:)?(?:component|item|texture2d)$/;

function relationshipsIn(bytes: Uint8Array): ZipPart[] {
  return zipParts(bytes).filter(({ path }) => RELATIONSHIPS.test(path));
}

/** Links to files outside of the package; where they stand is said by the package's own lists. */
function linksOf(bytes: Uint8Array): WrittenLink[] {
  const links = new Map<string, WrittenLink>();
  for (const part of relationshipsIn(bytes))
    for (const link of linksInRelationships(contentOf(bytes, part, MOST_RELATIONSHIPS)))
      if (!links.has(link.written)) links.set(link.written, { ...link, places: [] });
  return [...links.values()];
}

function linksInRelationships(xml: Uint8Array): WrittenLink[] {
  const links = new WrittenPlaces();
  const encoded = new EncodedText(xml);
  for (const { attributes } of elementsOf(encoded.text, RELATIONSHIP)) {
    const target = attributes.get('Target');
    if (!target || attributes.get('TargetMode')?.text !== 'External') continue;
    const [path = ''] = /^(?:&[^;\s]*;|[^?#&])*/.exec(target.text) ?? [];
    const named = pathInReference(decodeXML(encoded.decoded(target.start, target.start + path.length)));
    if (named !== undefined)
      links.add('attachment', encoded.range(target.start, target.start + path.length), named);
  }
  return links.all();
}

/** What of the package refers to something that is not in it, or in a circle; null where nothing does. */
function damageOf(bytes: Uint8Array): string | null {
  const parts = zipParts(bytes);
  const known = new Set(parts.map(({ path }) => path.toLowerCase()));
  const missing: string[] = [];
  const need = (from: string, to: string) => {
    if (!known.has(to.toLowerCase())) missing.push(`${to}, which ${from} refers to`);
  };
  for (const part of parts) {
    if (!RELATIONSHIPS.test(part.path)) continue;
    const folder = part.path.replace(/_rels\/[^/]*$/i, '');
    const text = new EncodedText(contentOf(bytes, part, MOST_RELATIONSHIPS)).text;
    for (const { attributes } of elementsOf(text, RELATIONSHIP)) {
      const target = attributes.get('Target')?.text;
      if (target && attributes.get('TargetMode')?.text !== 'External')
        need(part.path, inPackage(target, folder));
    }
  }
  const models = new Map<string, string[]>();
  let left = MOST_MODELS;
  for (const part of parts) {
    if (!MODEL.test(part.path)) continue;
    const content = contentOf(bytes, part, Math.min(MOST_MODEL, left));
    left -= content.byteLength;
    // Most are long lists of points, and refer to nothing.
    if (!Buffer.from(content.buffer, content.byteOffset, content.byteLength).includes('path=')) continue;
    for (const { attributes } of elementsOf(new EncodedText(content).text, REFERRING)) {
      const path = attributes.get('path')?.text;
      if (!path) continue;
      const to = inPackage(path, '');
      need(part.path, to);
      if (MODEL.test(to)) append(models, part.path, to);
    }
  }
  const circle = circleIn(models);
  if (circle) return `Its parts refer to each other in a circle: ${circle.slice(0, 5).join(' > ')}.`;
  if (missing.length === 0) return null;
  const [first] = missing;
  return `It lacks ${first}${missing.length > 1 ? ` and ${missing.length - 1} more` : ''}.`;
}

/** The path of an entry that a reference in the package leads to. */
function inPackage(reference: string, folder: string): string {
  const path = pathInReference(decodeXML(reference)) ?? reference;
  const from = path.startsWith('/') ? '' : folder.replace(/\/$/, '');
  return resolveSegments(from, path.split('/').filter(Boolean)) ?? path;
}

function circleIn(models: ReadonlyMap<string, readonly string[]>): string[] | undefined {
  const done = new Set<string>();
  for (const start of models.keys()) {
    const way: { path: string; next: number }[] = [{ path: start, next: 0 }];
    for (let top = way.at(-1); top; top = way.at(-1)) {
      const to = models.get(top.path)?.[top.next++];
      if (to === undefined) {
        done.add(top.path);
        way.pop();
      } else if (way.some(({ path }) => path === to)) return [...way.map(({ path }) => path), to];
      else if (!done.has(to)) way.push({ path: to, next: 0 });
    }
  }
  return undefined;
}

interface XmlElement {
  /** By their names, with and without a prefix. */
  attributes: Map<string, { text: string; start: number; end: number }>;
}

/** The elements of some names in a text that need not be well formed. No entity is ever expanded. */
function elementsOf(text: string, names: RegExp): XmlElement[] {
  const found: XmlElement[] = [];
  let element: XmlElement | null = null;
  let attribute = '';
  walkMarkup(text, 'xml', {
    onopentagname: (start, end) => {
      element = names.test(text.slice(start, end)) ? { attributes: new Map() } : null;
      if (element) found.push(element);
    },
    onattribname: (start, end) => {
      attribute = text.slice(start, end);
    },
    onattribdata: (start, end) => {
      const value = { text: text.slice(start, end), start, end };
      element?.attributes.set(attribute, value);
      element?.attributes.set(attribute.replace(/^.*:/, ''), value);
    },
  });
  return found;
}
