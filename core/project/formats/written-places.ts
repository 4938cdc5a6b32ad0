import { type Edit, splice } from '#core/files/part21/splice';
import { Refusal } from '#core/refusal';
import type { LinkKind } from './kinds';
import { linkOfKind, linksAnew, type Retarget, type WrittenLink, type WrittenPlace } from './link-format';

/** Links that are plain strings in a file: each is written at one place or several, alike. */
export class WrittenPlaces {
  private readonly links = new Map<string, WrittenLink>();

  add(kind: LinkKind, { start, end }: { start: number; end: number }, written: string): void {
    const key = `${kind} ${written}`;
    const place: WrittenPlace = { start, end, text: written, form: 'path' };
    const known = this.links.get(key);
    if (known) known.places.push(place);
    else this.links.set(key, { kind, written, definitions: [], places: [place] });
  }

  all(): WrittenLink[] {
    return [...this.links.values()];
  }
}

/**
 * Writes other paths at the places of links. What comes out is read again: a path that the format cannot say is refused.
 * @param read reads the links of the file, and of what comes out
 * @param encode the bytes that say a path; null when the encoding of the file cannot
 */
export function rewritePlaces(
  bytes: Uint8Array,
  holder: string,
  retargets: readonly Retarget[],
  read: (bytes: Uint8Array) => WrittenLink[],
  encode: (written: string) => Uint8Array | null,
): { bytes: Uint8Array; rewritten: string[] } {
  const anew = linksAnew(read(bytes), holder, retargets);
  const edits = anew.flatMap(({ link, written }) => {
    const content = encode(written);
    if (!content)
      throw new Refusal(`${holder} is in Latin-1, which cannot say ${written}. Save it as UTF-8 first.`);
    return link.places.map(({ start, end }): Edit => ({ start, end, content }));
  });
  const after = splice(
    bytes,
    edits.sort((a, b) => a.start - b.start),
  );
  const there = read(after);
  for (const { link, written } of anew)
    if (
      !linkOfKind(
        link.kind,
        there.filter((found) => found.written === written),
      )
    )
      throw new Refusal(
        `${holder} cannot lead to a file named ${written}: its format would read another name.`,
      );
  return { bytes: after, rewritten: anew.map(({ written }) => written) };
}
