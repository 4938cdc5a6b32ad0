import { decodeXML, escapeAttribute } from 'entities';
import { EncodedText } from './encoded-text';
import type { LinkKind } from './kinds';
import type { LinkFormat, WrittenLink } from './link-format';
import { walkMarkup } from './markup';
import { pathAsReference, pathInReference } from './uri-reference';
import { rewritePlaces, WrittenPlaces } from './written-places';

/**
 * SVG: a drawing says which model it shows (Dublin Core `references`, in RDF or in plain metadata), and takes images, other drawings
 * and style sheets from files.
 */
export const SVG: LinkFormat = {
  name: 'svg',
  version: 7,
  links: readSvg,
  rewrite(bytes, holder, retargets) {
    const text = new EncodedText(bytes);
    return rewritePlaces(bytes, holder, retargets, readSvg, (written) =>
      text.encode(escapeAttribute(pathAsReference(written))),
    );
  },
};

const DUBLIN_CORE = 'http://purl.org/dc/terms/';
const RDF = 'http://www.w3.org/1999/02/22-rdf-syntax-ns#';
const XLINK = 'http://www.w3.org/1999/xlink';
const SVG_NAMESPACE = 'http://www.w3.org/2000/svg';

/** What an undeclared prefix means, as most writers use it. */
const USUAL: Namespaces = { '': SVG_NAMESPACE, xlink: XLINK, dcterms: DUBLIN_CORE, rdf: RDF };

/** A file that CSS takes in: in style sheets, in style attributes, and in attributes such as `fill`. */
const IN_CSS =
  /url\(\s*(?:(["'])([^"'\n]*)\1|(&quot;|&apos;|&#3[49];)([^&"'\n]*)\3|([^()"'\s]+))\s*\)|@import\s+(["'])([^"'\n]*)\6/gi;
const STYLE_SHEET = /^xml-stylesheet\s[\s\S]*?\bhref\s*=\s*(["'])(.*?)\1/;
const ENTITY = /ENTITY\s+([\w.-]+)\s+(["'])(.*?)\2/g;

interface Namespaces {
  readonly [prefix: string]: string;
}

interface Element {
  /** `{namespace}name` */
  name: string;
  namespaces: Namespaces;
  isReference: boolean;
}

interface Attribute {
  name: string;
  start: number;
  end: number;
}

/** Reads the links of one drawing. Nothing is built but the list: a drawing may be large, and need not be well formed. */
class SvgReader {
  private readonly links = new WrittenPlaces();
  private readonly encoded: EncodedText;
  private readonly open: Element[] = [{ name: '', namespaces: USUAL, isReference: false }];
  private readonly entities = new Map<string, string>();
  private tag = '';
  private attributes: Attribute[] = [];
  private attributeName = '';

  constructor(bytes: Uint8Array) {
    this.encoded = new EncodedText(bytes);
  }

  read(): WrittenLink[] {
    const { text } = this.encoded;
    walkMarkup(text, 'xml', {
      ondeclaration: (start, end) => {
        // Not taken apart again: entities in entities are nobody's file name.
        for (const { 1: name, 3: value } of text.slice(start, end).matchAll(ENTITY))
          this.entities.set(name!, value!);
      },
      onprocessinginstruction: (start, end) => {
        const [whole, , href] = STYLE_SHEET.exec(text.slice(start, end)) ?? [];
        if (whole !== undefined)
          this.note('resource', start + whole.length - 1 - href!.length, start + whole.length - 1);
      },
      onopentagname: (start, end) => {
        this.tag = text.slice(start, end);
        this.attributes = [];
      },
      onattribname: (start, end) => {
        this.attributeName = text.slice(start, end);
      },
      onattribdata: (start, end) => {
        this.attributes.push({ name: this.attributeName, start, end });
      },
      onopentagend: () => this.enter(),
      onselfclosingtag: () => {
        this.enter();
        this.leave();
      },
      onclosetag: () => this.leave(),
      ontext: (start, end) => this.readText(start, end),
      oncdata: (start, end, offset) => this.readText(start, end - offset),
    });
    return this.links.all();
  }

  private enter(): void {
    const outer = this.open.at(-1)!;
    const declared = this.attributes.flatMap(({ name, start, end }) => {
      const [, prefix] = /^xmlns(?::(.+))?$/.exec(name) ?? ['', null];
      return prefix === null ? [] : [[prefix ?? '', this.decoded(start, end)] as const];
    });
    const namespaces =
      declared.length === 0 ? outer.namespaces : { ...outer.namespaces, ...Object.fromEntries(declared) };
    const name = qualified(this.tag, namespaces, namespaces['']);
    const isReference = name === `{${DUBLIN_CORE}}references`;
    for (const attribute of this.attributes) {
      const { start, end } = attribute;
      const meaning = qualified(attribute.name, namespaces, undefined);
      const isResource = meaning === `{${RDF}}resource` && isReference;
      const isAbout = meaning === `{${RDF}}about` && outer.isReference;
      if (isResource || isAbout || meaning === `{${DUBLIN_CORE}}references`) this.note('drawing', start, end);
      else if (meaning === 'href' || meaning === `{${XLINK}}href`)
        this.note(name === `{${SVG_NAMESPACE}}a` ? 'attachment' : 'resource', start, end);
      else this.readCss(start, end);
    }
    this.open.push({ name, namespaces, isReference });
  }

  private leave(): void {
    if (this.open.length > 1) this.open.pop();
  }

  private readText(start: number, end: number): void {
    const { name, isReference } = this.open.at(-1)!;
    if (name === `{${SVG_NAMESPACE}}style`) this.readCss(start, end);
    if (!isReference) return;
    const text = this.encoded.text.slice(start, end);
    const blanks = text.length - text.trimStart().length;
    this.note('drawing', start + blanks, start + text.trimEnd().length);
  }

  private readCss(start: number, end: number): void {
    const css = this.encoded.text.slice(start, end);
    if (!css.includes('url(') && !css.includes('@import')) return;
    for (const { index, ...groups } of css.matchAll(IN_CSS)) {
      const { 0: whole, 2: quoted, 4: escaped, 5: plain, 7: imported } = groups;
      const path = quoted ?? escaped ?? plain ?? imported ?? '';
      const at = start + index + whole.lastIndexOf(path);
      if (path !== '') this.note('resource', at, at + path.length);
    }
  }

  /** Notes the file that a reference names. Query and fragment stay where they are. */
  private note(kind: LinkKind, start: number, end: number): void {
    const [path = ''] = /^(?:&[^;\s]*;|[^?#&])*/.exec(this.encoded.text.slice(start, end)) ?? [];
    const named = pathInReference(this.decoded(start, start + path.length));
    if (named !== undefined) this.links.add(kind, this.encoded.range(start, start + path.length), named);
  }

  private decoded(start: number, end: number): string {
    const text = this.encoded.decoded(start, end);
    return decodeXML(text.replace(/&([\w.-]+);/g, (whole, name: string) => this.entities.get(name) ?? whole));
  }
}

/** A name with its namespace, `{namespace}name`; attributes without a prefix have none. */
function qualified(name: string, namespaces: Namespaces, plain: string | undefined): string {
  const at = name.indexOf(':');
  const namespace = at < 0 ? plain : namespaces[name.slice(0, at)];
  return namespace === undefined ? name : `{${namespace}}${name.slice(at + 1)}`;
}

function readSvg(bytes: Uint8Array): WrittenLink[] {
  return new SvgReader(bytes).read();
}
