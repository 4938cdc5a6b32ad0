import { decodeHTMLAttribute, escapeAttribute } from 'entities';
import { EncodedText } from './encoded-text';
import type { LinkKind } from './kinds';
import type { LinkFormat, WrittenLink } from './link-format';
import { walkMarkup } from './markup';
import { pathAsReference, pathInReference } from './uri-reference';
import { rewritePlaces, WrittenPlaces } from './written-places';

/**
 * HTML: reports with their images and style sheets (HTML Living Standard, 2.4 URLs; 4.8.4.2.1 srcset). What a page points a reader at (`a`,
 * `area`) is an attachment; what it shows is a resource. Scripts and style sheets in the page are passed over.
 */
export const HTML: LinkFormat = {
  name: 'html',
  version: 1,
  links: readHtml,
  rewrite(bytes, holder, retargets) {
    const text = new EncodedText(bytes);
    return rewritePlaces(bytes, holder, retargets, readHtml, (written) =>
      text.encode(escapeAttribute(pathAsReference(written))),
    );
  },
};

/** Attributes that name a file, by the elements that have them. */
const NAMING: { readonly [attribute: string]: RegExp } = {
  src: /^(img|script|iframe|frame|embed|video|audio|source|track|input)$/,
  href: /^(a|area|link|image|use)$/,
  poster: /^video$/,
  data: /^object$/,
  background: /^(body|table|td|th)$/,
};
const SRCSET = /^(img|source)$/;
/** A candidate of `srcset`: an address, and behind it a width or a density. */
const CANDIDATE = /[^\s,]\S*[^\s,]|[^\s,]/g;

function readHtml(bytes: Uint8Array): WrittenLink[] {
  const links = new WrittenPlaces();
  const encoded = new EncodedText(bytes);
  let tag = '';
  let attribute = '';
  /** Of one attribute the first piece is its value. */
  let isRead = false;
  /** A page says that all its addresses start elsewhere: where that is on the web, none of them is a file. */
  let isElsewhere = false;

  const note = (kind: LinkKind, start: number, end: number) => {
    const raw = encoded.text.slice(start, end);
    const blanks = raw.length - raw.trimStart().length;
    const at = start + blanks;
    const [path = ''] = /^(?:&[^;\s]*;|[^?#&])*/.exec(raw.trim()) ?? [];
    const named = pathInReference(decodeHTMLAttribute(encoded.decoded(at, at + path.length)));
    if (named !== undefined) links.add(kind, encoded.range(at, at + path.length), named);
  };
  const read = (start: number, end: number) => {
    if (tag === 'base' && attribute === 'href') {
      const base = decodeHTMLAttribute(encoded.decoded(start, end)).trim();
      isElsewhere ||= base !== '' && pathInReference(base) === undefined;
    } else if (attribute === 'srcset' && SRCSET.test(tag)) readCandidates(start, end);
    else if (NAMING[attribute]?.test(tag))
      note(tag === 'a' || tag === 'area' ? 'attachment' : 'resource', start, end);
  };
  const readCandidates = (start: number, end: number) => {
    let isAddress = true;
    for (const { 0: word, index } of encoded.text.slice(start, end).matchAll(CANDIDATE)) {
      if (isAddress) note('resource', start + index, start + index + word.length);
      // What stands behind an address ends with the comma.
      const next = encoded.text.slice(start + index + word.length, end).trimStart();
      isAddress = next.startsWith(',') || !isAddress;
    }
  };

  walkMarkup(encoded.text, 'html', {
    onopentagname: (start, end) => {
      tag = encoded.text.slice(start, end).toLowerCase();
    },
    onattribname: (start, end) => {
      attribute = encoded.text.slice(start, end).toLowerCase();
      isRead = false;
    },
    onattribdata: (start, end) => {
      if (!isRead) read(start, end);
      isRead = true;
    },
  });
  return isElsewhere ? [] : links.all();
}
