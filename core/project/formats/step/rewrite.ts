import { baseName, folderOf } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import { replaceStrings, type StringReplacement } from '#core/files/part21/rewrite';
import type { Edit } from '#core/files/part21/splice';
import { linksAnew, type Retarget, type WrittenLink } from '#core/project/formats/link-format';
import { pathAsReference } from '#core/project/formats/uri-reference';
import { readStepLinks } from './links';
import { withSourceRenewed, withSourcesRenewed } from './renew-sources';

/**
 * Points links of a STEP file at other files. The path is written relative to the holder, with the separator that
 * the link used; where the file keeps folder and name apart, it still does. Nothing else changes, but that sources
 * written in the old form are renewed (core/project/formats/step/renew-sources).
 * @param holder path of the file itself, in the same folders as the targets
 * @returns the new bytes, and for each link what is written now
 * @throws Error when the file holds no link that is written so
 */
export function rewriteStepLinks(
  bytes: Uint8Array,
  holder: string,
  retargets: readonly Retarget[],
): { bytes: Uint8Array; rewritten: string[] } {
  const renewed = withSourcesRenewed(bytes);
  const anew = linksAnew(readStepLinks(Part21File.read(renewed)), holder, retargets);
  let after = replaceStrings(
    renewed,
    anew.flatMap(({ link, path }) => placesRewritten(link, path)),
    anew.flatMap(({ link, path }) => referencesRewritten(link, path)),
  );
  for (const [n, { sha256 }] of retargets.entries())
    if (sha256 !== undefined) after = withSourceRenewed(after, anew[n]!.written, sha256, new Map());
  return { bytes: after, rewritten: anew.map(({ written }) => written) };
}

function placesRewritten(link: WrittenLink, path: string): StringReplacement[] {
  const separator = link.written.includes('\\') ? '\\' : '/';
  const styled = path.replaceAll('/', separator);
  const hasFolderPlace = link.places.some(({ form }) => form === 'folder');
  const hasPathPlace = link.places.some(({ form, text }) => form === 'path' && /[\\/]/.test(text));
  const strings = link.places.filter(({ form }) => form !== 'reference');
  return strings.map(({ start, end, text, form }) => {
    if (form === 'folder') {
      const folder = folderOf(path).replaceAll('/', separator) || '.';
      return { start, end, text: /[\\/]\s*$/.test(text) ? `${folder}${separator}` : folder };
    }
    const nameOnly = hasFolderPlace || (hasPathPlace && !/[\\/]/.test(text));
    return { start, end, text: nameOnly ? baseName(path) : styled };
  });
}

/** URIs are no strings of the format: they stand as they are. */
function referencesRewritten({ places }: WrittenLink, path: string): Edit[] {
  const content = Buffer.from(pathAsReference(path), 'latin1');
  return places.flatMap(({ start, end, form }) => (form === 'reference' ? [{ start, end, content }] : []));
}
