import type { LinkKind } from '#core/project/formats/kinds';
import type { FileChange, NewContent, Rewire } from './change-set';
import type { FileEntry } from './file-set';

/** Makes a content when it is asked for. */
export type MakeContent = () => Uint8Array;

/** Stands for a content that is not made yet. */
export const NOT_MADE: NewContent = { sha256: '', bytes: 0, content: null };

/** A file through all that a draft does to it. */
export interface DraftFile {
  /** Where it lies now. */
  path: string;
  /** Where it lay before, and what it was; null for a new one. */
  origin: FileEntry | null;
  /** What it holds now; null while that is what lies below. */
  content: NewContent | null;
  /** Makes the content, where it is not made yet; it stands for itself until then. */
  make: MakeContent | null;
  /** Hashes of contents that differ from this one in how links are written only. */
  formerly: Set<string>;
  /** Whether a plan gave it its content, and not only its links were set anew. */
  isWritten: boolean;
  isGone: boolean;
  /** The links of its present content; null until somebody asks. */
  links: HeldLink[] | null;
  /** Its links that were set anew, by their kind and what is written now. */
  rewired: Map<string, RewiredLink>;
}

/** A link that was set anew: on purpose, or since it follows a file that moved. */
interface RewiredLink {
  written: string;
  rewritten: string;
  target: DraftFile;
  was: string | null;
  isMeant: boolean;
}

/** A link that a file of a draft holds. */
export interface HeldLink {
  kind: LinkKind;
  written: string;
  /** Where it leads; null for nowhere. A file, not a path: wherever that file goes, the link follows. */
  target: DraftFile | null;
  /** Where target and holder lay when this was written. */
  targetAt: string | null;
  holderAt: string;
  /** Set anew on purpose, and not written yet. */
  isMeant: boolean;
  /** For a source: the version that is remembered. */
  sha256: string | null;
}

/** A new file of a draft, or one that lay below it. */
export function draftFile(path: string, origin: FileEntry | null): DraftFile {
  return {
    path,
    origin,
    content: null,
    make: null,
    formerly: new Set(origin ? [origin.sha256] : []),
    isWritten: origin === null,
    isGone: false,
    links: null,
    rewired: new Map(),
  };
}

/** All that can become of a file, as it is now; its parts are copies. */
export function stateOf(file: DraftFile): DraftFile {
  return {
    ...file,
    formerly: new Set(file.formerly),
    links: file.links?.map((link) => ({ ...link })) ?? null,
    rewired: new Map([...file.rewired].map(([key, link]) => [key, { ...link }])),
  };
}

/** A set with other members. */
export function refill<Member>(set: Set<Member>, members: Iterable<Member>): void {
  set.clear();
  for (const member of members) set.add(member);
}

/**
 * Remembers that links are written anew; one that was written anew before is still one. Together: two may change places, and what one is
 * now called the other was.
 */
export function rewire(
  { rewired }: DraftFile,
  links: readonly { link: Readonly<HeldLink>; rewritten: string }[],
): void {
  const known = links.map(({ link: { kind, written } }) => rewired.get(`${kind} ${written}`));
  for (const { link } of links) rewired.delete(`${link.kind} ${link.written}`);
  for (const [n, { link, rewritten }] of links.entries()) {
    const { kind, written, target, targetAt, isMeant } = link;
    const first = known[n] ?? { written, was: targetAt, isMeant: false };
    rewired.set(`${kind} ${rewritten}`, {
      written: first.written,
      rewritten,
      target: target!,
      was: first.was,
      isMeant: isMeant || first.isMeant,
    });
  }
}

/** The links of a file that were set anew, for the record. */
export function rewiresOf({ path, rewired }: DraftFile): Rewire[] {
  return [...rewired.values()].map(({ written, rewritten, target, was }) => ({
    holder: path,
    written,
    rewritten,
    to: target.isGone ? null : target.path,
    was,
  }));
}

/** New links that a later change has taken out of the file again are no links of it. */
export function forgetLinksGone({ rewired }: DraftFile, links: readonly HeldLink[]): void {
  const there = new Set(links.map(({ written }) => written));
  for (const [key, { was, isMeant, rewritten }] of rewired)
    if (was === null && isMeant && !there.has(rewritten)) rewired.delete(key);
}

/** Whether a file stays where it is and what it is, and only its links follow what moved. */
export function onlyFollows({ path, origin, content, isWritten, isGone, rewired }: DraftFile): boolean {
  const stays = !isGone && !isWritten && origin?.path === path && content !== null;
  return stays && rewired.size > 0 && [...rewired.values()].every(({ isMeant }) => !isMeant);
}

/** What a link shall remember of a file of which only the links were written anew; null where there is nothing to do. */
export function renewedDigest({ target, sha256 }: HeldLink): string | null {
  const now = target?.content?.sha256;
  if (sha256 === null || now === undefined || target!.isGone) return null;
  return now !== sha256 && target!.formerly.has(sha256) ? now : null;
}

/** What became of a file; nothing where it is as it was. */
export function changeOf({ path, origin, content, isGone }: DraftFile): FileChange[] {
  if (isGone) return origin ? [{ action: 'delete', path: origin.path, base: origin.sha256 }] : [];
  if (!origin) return [{ action: 'write', path, base: null, ...content! }];
  const written = content !== null && content.sha256 !== origin.sha256 ? content : null;
  if (origin.path !== path)
    return [
      { action: 'move', path: origin.path, to: path, base: origin.sha256, ...(written && { written }) },
    ];
  return written ? [{ action: 'write', path, base: origin.sha256, ...written }] : [];
}
