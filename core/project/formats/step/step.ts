import { besidesInArchive, looksPacked, packedLike, unpackedStep } from '#core/files/archive/packed-step';
import { looksLikePart21, Part21File, readHeaderOnly } from '#core/files/part21/file';
import { readDocumentSources } from '#core/product/source/document-tie';
import { withoutSource } from '#core/product/source/tie';
import { readStructure } from '#core/product/structure';
import type { FileFacts, LinkFormat, OldForm, WrittenLink } from '#core/project/formats/link-format';
import { damageOf } from './damage';
import { readStepLinks, scanStepLinks } from './links';
import { withProductsNamed } from './product-names';
import { associatedStandIns } from './renew-documents';
import { hasFolderApart } from './renew-folders';
import { withFormsRenewed } from './renew-forms';
import { withSourceRenewed, withSourcesRenewed } from './renew-sources';
import { rewriteStepLinks } from './rewrite';
import { unitsOutOfOrder } from './units-out-of-order';
import { withoutReferences } from './without-references';

/** STEP files: ISO 10303-21 with the product structure of ISO 10303-203, -214 and -242. */
export const STEP: LinkFormat = {
  name: 'step',
  recognises: looksLikePart21,
  version: 11,
  read: (bytes, facts) => {
    readStep(unpackedStep(bytes), facts);
    facts.links = withoutThoseInside(bytes, facts.links);
  },
  links: (bytes) => withoutThoseInside(bytes, scanStepLinks(unpackedStep(bytes))),
  rewrite: (bytes, holder, retargets) => {
    const { bytes: content, rewritten } = rewriteStepLinks(unpackedStep(bytes), holder, retargets);
    return { bytes: packedLike(bytes, content), rewritten };
  },
  structure: {
    withSourcesRenewed: inside(withSourcesRenewed),
    withFormsRenewed: inside(withFormsRenewed),
    withSourceRenewed: inside(withSourceRenewed),
    withoutSource: inside(withoutSource),
    withoutReferences: inside(withoutReferences),
    withProductsNamed: inside(withProductsNamed),
  },
};

/** A change to an exchange structure, made inside of a file that it is packed in. The same bytes where nothing changes. */
function inside<Given extends unknown[]>(change: (bytes: Uint8Array, ...given: Given) => Uint8Array) {
  return (bytes: Uint8Array, ...given: Given): Uint8Array => {
    if (!looksPacked(bytes)) return change(bytes, ...given);
    const content = unpackedStep(bytes);
    const after = change(content, ...given);
    return after === content ? bytes : packedLike(bytes, after);
  };
}

/** Files of the same archive are no files of the project. */
function withoutThoseInside(bytes: Uint8Array, links: WrittenLink[]): WrittenLink[] {
  const others = new Set(besidesInArchive(bytes).map((path) => path.toLowerCase()));
  return others.size === 0 ? links : links.filter(({ written }) => !others.has(written.toLowerCase()));
}

function readStep(bytes: Uint8Array, facts: FileFacts): void {
  try {
    const file = Part21File.read(bytes, { check: true });
    facts.schema = file.header.schemas[0] ?? null;
    facts.links = readStepLinks(file);
    const { unit, products } = readStructure(file);
    Object.assign(facts, { unit, products });
    const linked = new Set(
      facts.links.filter(({ kind }) => kind === 'component').flatMap(({ definitions }) => definitions),
    );
    const standIns = products.filter(
      ({ definition, bodies, occurrences }) =>
        linked.has(definition) && bodies.length === 0 && occurrences.length === 0,
    );
    facts.placeholders = standIns.map(({ definition }) => definition);
    facts.links = withoutFalseComponents(facts.links, facts.placeholders);
    facts.oldForms = oldFormsOf(file, facts);
    facts.damage = damageOf(file, products);
    if (products.some(({ occurrences }) => occurrences.length > 0)) facts.role = 'assembly';
  } catch (error) {
    facts.schema ??= readHeaderOnly(bytes)?.schemas[0] ?? null;
    throw error;
  }
}

/** Documents of products that have a shape of their own are attachments; written alike, they are one link. */
function withoutFalseComponents(links: WrittenLink[], placeholders: readonly number[]): WrittenLink[] {
  const isComponent = (link: WrittenLink) =>
    link.definitions.some((definition) => placeholders.includes(definition));
  if (links.every((link) => link.kind !== 'component' || isComponent(link))) return links;
  const kept = new Map<string, WrittenLink>();
  for (const link of links) {
    if (link.kind === 'component' && !isComponent(link)) link.kind = 'attachment';
    const key = `${link.kind} ${link.written}`;
    const known = kept.get(key);
    if (known) known.places.push(...link.places);
    else kept.set(key, link);
  }
  return [...kept.values()];
}

function oldFormsOf(file: Part21File, { links, placeholders }: FileFacts): OldForm[] {
  const forms: OldForm[] = [];
  if (links.length > 0 && associatedStandIns(file, placeholders).length > 0) forms.push('stand-ins');
  if (links.some(hasFolderApart)) forms.push('folders');
  if (links.some(({ kind }) => kind === 'source') && readDocumentSources(file).size > 0)
    forms.push('sources');
  if (unitsOutOfOrder(file).length > 0) forms.push('units');
  return forms;
}
