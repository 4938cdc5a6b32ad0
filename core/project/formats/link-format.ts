import { relativePath } from '#core/files/links/paths';
import type { SourceMemory } from '#core/product/source/memory';
import type { Product } from '#core/product/structure';
import type { Attachment } from './attachments';
import type { LinkKind } from './kinds';

export type FileRole = 'part' | 'assembly' | 'drawing' | 'mesh' | 'image' | 'document' | 'other';

/** One string in a file in which the target's name, path or folder is written. */
export interface WrittenPlace {
  /** Bytes of the string itself, without quotes. */
  start: number;
  end: number;
  text: string;
  /**
   * `path`: a name with or without folders. `folder`: only the folder, the name stands elsewhere. `reference`: a path as URIs have it,
   * percent-encoded.
   */
  form: 'path' | 'folder' | 'reference';
}

/** A link to another file as the holder writes it, before anything is resolved. Kind and `written` name it in its file. */
export interface WrittenLink {
  kind: LinkKind;
  /** The path as written and decoded: folder and name joined where the file keeps them apart. */
  written: string;
  /** PRODUCT_DEFINITIONs of the holder that stand for the target; none where the format has no such thing. */
  definitions: number[];
  places: WrittenPlace[];
  /** For a source: which version was taken, and which bodies of it. */
  source?: SourceMemory;
}

/**
 * Stand-ins that list their documents, folders apart from names, sources that are documents, units whose records are out of
 * order.
 */
export type OldForm = 'stand-ins' | 'folders' | 'sources' | 'units';

/** What the bytes of a file say of themselves. */
export interface FileFacts {
  schema: string | null;
  unit: string | null;
  /** All products of the file, with those that only stand for external files. */
  products: Product[];
  /** PRODUCT_DEFINITIONs that stand for an external file. */
  placeholders: number[];
  links: WrittenLink[];
  /** What it writes in a form that others do not follow, and that can be renewed (core/jobs/repair/renew). */
  oldForms: OldForm[];
  /** What cannot be trusted in a file that can be read: it refers to instances that are not there. */
  damage: string | null;
  /** The format's own, unless the contents tell another. */
  role: FileRole;
  /** Of a manifest: which files it attaches to which models, by the paths as they are written. */
  attached?: Attachment[];
}

/** A link to be set anew: the one of that kind written so, and the target's project path. */
export interface Retarget {
  kind: LinkKind;
  written: string;
  /** Path of the target as the holder will see it: project path, or path inside a package. */
  to: string;
  /** For a source whose text changed and nothing else of it: the hash to be remembered from now on. */
  sha256?: string;
}

/** A file format that can lead to other files: which files it claims, what they say, and how a link in them is written anew. */
export interface LinkFormat {
  /** By this name the list of endings (`endings.ts`) says which files it claims. */
  name: string;
  /** Whether it claims a file of an unknown ending, by how its bytes begin. */
  recognises?(bytes: Uint8Array): boolean;
  /** Raised whenever reading the same bytes would say something else than before; stored scans of the format are then renewed. */
  version: number;
  /** The links that the bytes hold. @throws Error that says where and what, when they cannot be read */
  links(bytes: Uint8Array): WrittenLink[];
  /**
   * Where more is known of such files than their links: fills in all that the bytes say; for some that cannot be read to their end,
   * as far as they were understood. @throws Error as above
   */
  read?(bytes: Uint8Array, facts: FileFacts): void;
  /**
   * Points links at other files. Paths are written relative to the holder; nothing else changes.
   * @returns the new bytes, and for each link what is written now
   * @throws Error when the file holds no link that is written so; Refusal when the format cannot say the new path
   */
  rewrite(
    bytes: Uint8Array,
    holder: string,
    retargets: readonly Retarget[],
  ): { bytes: Uint8Array; rewritten: string[] };
  /** What only formats with a product structure and sources can do. */
  structure?: StructuredFormat;
}

/** What a format with a product structure can do besides. Nothing but what is named changes, to the byte. */
export interface StructuredFormat {
  /** Without sources in forms that are no longer written; the same bytes where there are none. */
  withSourcesRenewed(bytes: Uint8Array): Uint8Array;
  /** @param standIns PRODUCT_DEFINITIONs of the file that stand for others */
  withFormsRenewed(bytes: Uint8Array, forms: readonly OldForm[], standIns: readonly number[]): Uint8Array;
  /**
   * With a newer version of one source remembered.
   * @param written the source link, as the file writes it
   * @param bodies what each older body is now, by its older number; null for one that is gone
   */
  withSourceRenewed(
    bytes: Uint8Array,
    written: string,
    sha256: string,
    bodies: ReadonlyMap<number, { id: number; name: string } | null>,
  ): Uint8Array;
  /** Without a source. */
  withoutSource(bytes: Uint8Array, written: string): Uint8Array;
  /** Without what names files for some of its stand-ins (PRODUCT_DEFINITIONs). */
  withoutReferences(bytes: Uint8Array, standIns: readonly number[]): Uint8Array;
  /** With other ids and names for some of its products, stand-ins or its own. */
  withProductsNamed(bytes: Uint8Array, products: readonly ProductName[]): Uint8Array;
}

/** What a product shall be called; what is left out stays. */
export interface ProductName {
  /** Its PRODUCT_DEFINITION. */
  definition: number;
  id?: string;
  name?: string;
}

/**
 * The link that is meant by a kind, among those of one file that are written alike. A document of a part that has a
 * shape of its own reads as a component in its text and is an attachment for the scan.
 */
export function linkOfKind<Link extends { kind: LinkKind }>(
  kind: LinkKind,
  alike: readonly Link[],
): Link | undefined {
  return (
    alike.find((link) => link.kind === kind) ??
    alike.find((link) => kind !== 'source' && link.kind !== 'source')
  );
}

/**
 * The links of a holder that are to be set anew, each with the path from there, and what the file will say, with the separator
 * that the link used. @throws Error when the holder has no such link
 */
export function linksAnew(
  links: readonly WrittenLink[],
  holder: string,
  retargets: readonly Retarget[],
): { link: WrittenLink; path: string; written: string }[] {
  return retargets.map(({ kind, written, to }) => {
    const link = linkOfKind(
      kind,
      links.filter((candidate) => candidate.written === written),
    );
    if (!link) throw new Error(`${holder} has no link to ${written}.`);
    const path = relativePath(holder, to);
    return { link, path, written: written.includes('\\') ? path.replaceAll('/', '\\') : path };
  });
}
