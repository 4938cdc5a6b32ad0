import { parseWritten } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import { replaceStrings, type StringReplacement } from '#core/files/part21/rewrite';
import type { WrittenLink } from '#core/project/formats/link-format';
import { readStepLinks } from './links';

/**
 * Whether a link keeps its folder apart from its name, where few readers look for it. A folder of another computer, or the
 * holder's own, is better left where it is: the name alone leads on.
 */
export function hasFolderApart({ places }: WrittenLink): boolean {
  return places.some(({ form, text }) => {
    const { origin, segments } = parseWritten(text);
    return form === 'folder' && origin === 'relative' && segments.some((segment) => segment !== '');
  });
}

/** The file with every link's whole path where its name stands, and nothing as its folder. No other byte changes. */
export function withFoldersJoined(bytes: Uint8Array): Uint8Array {
  const replacements = new Map<number, StringReplacement>();
  for (const { written, places } of readStepLinks(Part21File.read(bytes)).filter(hasFolderApart))
    for (const { start, end, form } of places)
      replacements.set(start, { start, end, text: form === 'folder' ? '' : written });
  return replaceStrings(bytes, [...replacements.values()]);
}
