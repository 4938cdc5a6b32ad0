import { extensionOf } from '#core/files/links/paths';
import { STEP } from '#core/project/formats/step/step';
import { Refusal } from '#core/refusal';
import { DXF } from './dxf';
import { ENDINGS } from './endings';
import { GLTF } from './gltf';
import { HTML } from './html';
import type { FileRole, LinkFormat, Retarget, StructuredFormat, WrittenLink } from './link-format';
import { JSON_FORMAT } from './manifest';
import { MTL } from './mtl';
import { OBJ } from './obj';
import { SVG } from './svg';
import { THREE_MF } from './three-mf';

/** The formats that can lead to other files. One more is one module and its line here. */
const LINK_FORMATS: readonly LinkFormat[] = [STEP, SVG, DXF, OBJ, MTL, GLTF, THREE_MF, HTML, JSON_FORMAT];

/** Version of the scans of files that no format claims. */
const NOTHING_READ = 6;

const byExtension = new Map(
  Object.entries(ENDINGS).flatMap(([ending, { format, isRead }]) => {
    const module = LINK_FORMATS.find(({ name }) => name === format);
    return module && isRead ? [[ending, module] as const] : [];
  }),
);

/** The format that reads a file; undefined when nothing in it is read. */
export function linkFormatOf(path: string, bytes: Uint8Array): LinkFormat | undefined {
  const extension = extensionOf(path);
  const claimed = byExtension.get(extension);
  if (claimed || extension in ENDINGS) return claimed;
  return LINK_FORMATS.find((format) => format.recognises?.(bytes));
}

/** Name of a file's format, and its role as far as the format tells. */
export function formatOf(
  path: string,
  bytes: Uint8Array,
  claimed = linkFormatOf(path, bytes),
): { format: string; role: FileRole } {
  const extension = extensionOf(path);
  const known = claimed
    ? Object.values(ENDINGS).find(({ format }) => format === claimed.name)
    : ENDINGS[extension];
  if (!known) return { format: extension || 'unknown', role: 'other' };
  const { format, role } = known;
  return { format, role };
}

/** Whether a file of this name could hold links at all, whatever is in it. */
export function canHoldLinks(path: string): boolean {
  const extension = extensionOf(path);
  return byExtension.has(extension) || !(extension in ENDINGS);
}

/** Whether a file that is read in one format by its name still is under another name. */
export function keepsFormat(from: string, to: string): boolean {
  const [before, after] = [byExtension.get(extensionOf(from)), byExtension.get(extensionOf(to))];
  if (before && after) return before === after;
  // Under an ending that says nothing, bytes tell, in those formats in which they do.
  const format = before ?? after;
  return canHoldLinks(from) && canHoldLinks(to) && (!format || format.recognises !== undefined);
}

/** Version of the scan that is made of files with this ending: a stored scan of another is made anew. */
export function scanVersion(extension: string): number {
  const claimed = byExtension.get(extension);
  if (claimed) return claimed.version;
  return extension in ENDINGS ? NOTHING_READ : STEP.version;
}

/** The links that a file holds, and nothing else of it. @throws Error when it cannot be read */
export function readLinks(path: string, bytes: Uint8Array): WrittenLink[] {
  return linkFormatOf(path, bytes)?.links(bytes) ?? [];
}

/**
 * Points links of a file at other files, in its format's own way. No other byte changes.
 * @param holder path of the file itself, in the same folders as the targets
 * @returns the new bytes, and for each link what is written now
 * @throws Error when the file holds no link that is written so; Refusal when it cannot say the new path
 */
export function rewriteLinks(
  bytes: Uint8Array,
  holder: string,
  retargets: readonly Retarget[],
): { bytes: Uint8Array; rewritten: string[] } {
  const format = linkFormatOf(holder, bytes);
  if (!format) throw new Refusal(`${holder} is of a format that holds no links to other files.`);
  return format.rewrite(bytes, holder, retargets);
}

/**
 * What the format of a file can do with its product structure.
 * @throws Refusal for a file whose format has none
 */
export function structuredFormatOf(path: string, bytes: Uint8Array): StructuredFormat {
  const structure = linkFormatOf(path, bytes)?.structure;
  if (!structure) throw new Refusal(`${path} is of a format that holds no product structure.`);
  return structure;
}

/** The file without sources in forms that are no longer written. The same bytes when there is nothing of the kind. */
export function renewed(path: string, bytes: Uint8Array): Uint8Array {
  return linkFormatOf(path, bytes)?.structure?.withSourcesRenewed(bytes) ?? bytes;
}
