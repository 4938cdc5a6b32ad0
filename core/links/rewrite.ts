import { Part21File } from '#core/part21/file';
import { replaceStrings, type StringReplacement } from '#core/part21/rewrite';
import type { LinkKind } from './kinds';
import { baseName, folderOf, relativePath } from './paths';
import { renewSource, withSourcesRenewed } from './renew-sources';
import { readStepLinks, type WrittenLink } from './step';

/** A link to be set anew: the one of that kind written so, and the target's project path. */
export interface Retarget {
  kind: LinkKind;
  written: string;
  /** Path of the target as the holder will see it: project path, or path inside a package. */
  to: string;
  /** For a source whose text changed and nothing else of it: the hash to be remembered from now on. */
  sha256?: string;
}

/**
 * Points links of a STEP file at other files. The path is written relative to the holder, with the separator that
 * the link used; where the file keeps folder and name apart, it still does. Nothing else changes, but that sources
 * written in the old form are renewed (core/links/renew-sources).
 * @param holder path of the file itself, in the same folders as the targets
 * @returns the new bytes, and for each link what is written now
 * @throws Error when the file holds no link that is written so
 */
export function rewriteLinks(
  bytes: Uint8Array,
  holder: string,
  retargets: readonly Retarget[],
): { bytes: Uint8Array; rewritten: string[] } {
  const renewed = withSourcesRenewed(bytes);
  const links = readStepLinks(Part21File.read(renewed));
  const replacements: StringReplacement[] = [];
  const rewritten = retargets.map(({ kind, written, to }) => {
    const alike = links.filter((candidate) => candidate.written === written);
    const link = linkOfKind(kind, alike);
    if (!link) throw new Error(`${holder} has no link to ${written}.`);
    const path = relativePath(holder, to);
    replacements.push(...placesRewritten(link, path));
    return link.written.includes('\\') ? path.replaceAll('/', '\\') : path;
  });
  let after = replaceStrings(renewed, replacements);
  for (const [n, { sha256 }] of retargets.entries())
    if (sha256 !== undefined) after = renewSource(after, rewritten[n]!, sha256, new Map());
  return { bytes: after, rewritten };
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

function placesRewritten(link: WrittenLink, path: string): StringReplacement[] {
  const separator = link.written.includes('\\') ? '\\' : '/';
  const styled = path.replaceAll('/', separator);
  const hasFolderPlace = link.places.some(({ form }) => form === 'folder');
  const hasPathPlace = link.places.some(({ form, text }) => form === 'path' && /[\\/]/.test(text));
  return link.places.map(({ start, end, text, form }) => {
    if (form === 'folder') {
      const folder = folderOf(path).replaceAll('/', separator) || '.';
      return { start, end, text: /[\\/]\s*$/.test(text) ? `${folder}${separator}` : folder };
    }
    const nameOnly = hasFolderPlace || (hasPathPlace && !/[\\/]/.test(text));
    return { start, end, text: nameOnly ? baseName(path) : styled };
  });
}
