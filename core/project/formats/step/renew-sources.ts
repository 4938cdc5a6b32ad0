import { builderAfter, extended } from '#core/files/part21/extend';
import { Part21File } from '#core/files/part21/file';
import { Reference } from '#core/files/part21/parameters';
import { replaceStrings, type StringReplacement } from '#core/files/part21/rewrite';
import { mayHoldDocumentSources, readDocumentSources } from '#core/product/source/document-tie';
import { bodyIn } from '#core/product/source/memory';
import { addSourceLink, sourceRepresentations, withoutSource } from '#core/product/source/tie';
import { readStepLinks } from './links';

/** What stands in place of a body that the source no longer has. */
const GONE = 'gone from the source';

/**
 * The file with every source that it writes as a document written as a property instead, which other readers do not take for
 * a part to be loaded. No other byte changes; the same bytes come back when there is none.
 */
export function withSourcesRenewed(bytes: Uint8Array): Uint8Array {
  if (!mayHoldDocumentSources(bytes)) return bytes;
  const file = Part21File.read(bytes);
  if (readDocumentSources(file).size === 0) return bytes;
  const [first] = file.idsOfType('PRODUCT_DEFINITION');
  const old = readStepLinks(file).flatMap(({ kind, written, definitions, source }) => {
    const of = definitions[0] ?? first;
    return kind === 'source' && source && of !== undefined ? [{ written, of, source }] : [];
  });
  let without = bytes;
  for (const { written } of old) without = withoutSource(without, written);
  const rest = Part21File.read(without);
  const builder = builderAfter(rest);
  for (const { written, of, source } of old) addSourceLink(builder, new Reference(of), written, source);
  return extended(rest, builder, []);
}

/**
 * Renews what a file remembers of one source: the version taken, and the numbers and names of the bodies in it. No other
 * byte changes, but that sources in the old form are written in the new one.
 * @param written the source link, as the file writes it
 * @param bodies what each older body is now, by its older number; null for one that is gone
 */
export function withSourceRenewed(
  bytes: Uint8Array,
  written: string,
  sha256: string,
  bodies: ReadonlyMap<number, { id: number; name: string } | null>,
): Uint8Array {
  const renewed = withSourcesRenewed(bytes);
  const file = Part21File.read(renewed);
  const replacements: StringReplacement[] = [];
  for (const representation of sourceRepresentations(file, written)) {
    for (const item of file.referencesOf(representation, 1)) {
      const name = file.stringOf(item, 0)?.text;
      const value = file.stringOf(item, 1);
      if (!value) continue;
      if (name === 'digest') replacements.push({ ...value, text: `sha256:${sha256}` });
      const [older] = name === 'item' ? bodyIn(value.text) : [];
      const now = older && bodies.get(older.id);
      if (now) replacements.push({ ...value, text: `#${now.id} ${now.name}`.trim() });
      else if (now === null) replacements.push({ ...value, text: GONE });
    }
  }
  return replaceStrings(renewed, replacements);
}
