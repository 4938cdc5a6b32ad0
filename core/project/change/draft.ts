import { looksPacked, packedAnew, packedLike, unpackedStep } from '#core/files/archive/packed-step';
import { baseName, foldPath, freePath, parseWritten } from '#core/files/links/paths';
import { PathIndex, resolveWritten, writtenPath } from '#core/files/links/resolve';
import { hasStructure, isPacked } from '#core/project/formats/endings';
import { keepsFormat, readLinks, renewed, rewriteLinks } from '#core/project/formats/formats';
import type { LinkKind } from '#core/project/formats/kinds';
import { linkOfKind, type Retarget } from '#core/project/formats/link-format';
import { type ChangeSet, type NewContent, newContent } from './change-set';
import {
  changeOf,
  type DraftFile,
  draftFile,
  forgetLinksGone,
  type HeldLink,
  type MakeContent,
  NOT_MADE,
  onlyFollows,
  refill,
  renewedDigest,
  rewire,
  rewiresOf,
  stateOf,
} from './draft-file';
import { type FileEntry, type FileSet, MissingFileError, sha256 } from './file-set';
import { LINKS, type SeenVersion } from './seen';

/** A link as far as a draft has to know it. */
interface KnownLink {
  holder: string;
  kind: LinkKind;
  written: string;
  to: string | null;
  source?: { sha256: string | null };
}

/** What is known of the files below a draft: a scanned project. */
export interface KnownFiles {
  files: ReadonlyMap<string, Omit<FileEntry, 'path'>>;
  links: readonly KnownLink[];
  uses: ReadonlyMap<string, readonly KnownLink[]>;
  usedBy: ReadonlyMap<string, readonly KnownLink[]>;
  searchFolders: readonly string[];
}

/** Files of which nothing is known but that they are there: enough where nothing moves. */
export function listed(entries: readonly FileEntry[]): KnownFiles {
  return {
    files: new Map(entries.map((entry) => [entry.path, entry])),
    links: [],
    uses: new Map(),
    usedBy: new Map(),
    searchFolders: [],
  };
}

/** A link, by the file that holds it, its kind, and what is written there now. */
export interface LinkOf {
  holder: string;
  kind: LinkKind;
  written: string;
}

/**
 * Files that a plan writes, moves and removes over others, without touching those: later reads see earlier writes. Links follow
 * the files that they lead to: a moved file's own are written anew, and those of everything that uses it. A file made here never
 * takes over a link of another; one that comes from outside (`put`) may be just what a link waited for. `finish` gives it all as
 * one ChangeSet, each file written once on the version that lies below. Cost grows with the files touched and the links to them; a
 * path that is new costs one pass over all links.
 */
export class Draft implements FileSet {
  private readonly originals = new Map<string, DraftFile>();
  /** New files, and moved ones, by where they lie now. */
  private readonly arrived = new Map<string, DraftFile>();
  /** Paths at which the file below lies no longer. */
  private readonly left = new Set<string>();
  /** In the order in which they were touched. */
  private readonly touched = new Set<DraftFile>();
  private readonly fromOutside = new Set<DraftFile>();
  private readonly warnings: string[] = [];
  private readonly readBelow = new Set<DraftFile>();
  private knownIndex: PathIndex | undefined;
  /** How many files have a path, letters in either case being the same. */
  private takenPaths: Map<string, number> | undefined;

  /**
   * @param below what is read where nothing was written
   * @param known what is known of it
   * @param options `stored` reads a content that was `put` without its bytes; a `sketch` shows which files change and makes no
   * content that nobody reads
   */
  constructor(
    private readonly below: Pick<FileSet, 'read'>,
    private readonly known: KnownFiles,
    private readonly options: {
      stored?: (sha256: string) => Promise<Uint8Array>;
      isSketch?: boolean;
    } = {},
  ) {}

  async list(): Promise<FileEntry[]> {
    const entry = (path: string, { bytes, sha256 }: Omit<FileEntry, 'path'>) => ({ path, bytes, sha256 });
    const entries: FileEntry[] = [];
    for (const path of this.paths()) {
      const file = this.at(path)!;
      entries.push(entry(path, file.content ?? file.origin!));
    }
    return entries;
  }

  /** @throws MissingFileError when there is no such file, or no longer */
  async read(path: string): Promise<Uint8Array> {
    const file = this.at(path);
    if (!file) throw new MissingFileError(path);
    if (file.links !== null || this.hasMoved) await this.relink(file);
    return this.contentOf(file);
  }

  /**
   * A file's content as it has to stand in another file: links are written as seen from there, also those that lead nowhere.
   * @returns with each link that leads to a file, as it is written then
   */
  async readAt(path: string, at: string): Promise<{ bytes: Uint8Array; links: (LinkOf & { to: string })[] }> {
    const file = this.needed(path);
    const before = await this.read(path);
    const links = (await this.linksOf(file)).flatMap(({ kind, written, target }) => {
      const to = target && !target.isGone ? target.path : null;
      const meant = to ?? writtenPath(path, written);
      return meant === undefined ? [] : [{ kind, written, meant, to }];
    });
    const anew = links.filter(({ written, meant }) => writtenPath(at, written) !== meant);
    const { bytes, rewritten } =
      anew.length === 0
        ? { bytes: before, rewritten: [] }
        : rewriteLinks(
            before,
            at,
            anew.map(({ kind, written, meant }) => ({ kind, written, to: meant })),
          );
    const now = new Map(anew.map((link, n) => [link, rewritten[n]!]));
    return {
      bytes,
      links: links.flatMap((link) =>
        link.to === null
          ? []
          : [{ holder: at, kind: link.kind, written: now.get(link) ?? link.written, to: link.to }],
      ),
    };
  }

  /** Says that the plan rests on a file as it lies below, also where what was read of it is remembered from before. */
  restOn(path: string): void {
    this.readBelow.add(this.needed(path));
  }

  has(path: string): boolean {
    return this.at(path) !== undefined;
  }

  /** The paths of all files below a folder; none where there is no such folder. */
  filesIn(folder: string): string[] {
    return [...this.paths()].filter((path) => path.startsWith(`${folder}/`));
  }

  /** Whether a path is in use, letters in either case being the same. */
  isTaken(path: string): boolean {
    if (!this.takenPaths) {
      this.takenPaths = new Map();
      for (const present of this.paths()) this.count(present, 1);
    }
    return (this.takenPaths.get(foldPath(path)) ?? 0) > 0;
  }

  /** The path itself where it is free, or else the next that is. */
  free(path: string): string {
    return freePath(path, (candidate) => this.isTaken(candidate));
  }

  /** Writes a content that is made here, at once or when it is asked for; over the file that is there, or a new one. */
  write(path: string, content: Uint8Array | MakeContent): void {
    if (typeof content === 'function') this.store(path, NOT_MADE).make = content;
    else
      this.store(path, newContent(isPacked(path) && !looksPacked(content) ? packedAnew(content) : content));
  }

  /** Takes in a content from outside, as it is. Without its bytes it is one that the home keeps. */
  put(path: string, content: NewContent): void {
    this.fromOutside.add(this.store(path, content));
  }

  /**
   * Writes what a change to its text makes of a file; of a packed one, to what is packed in it. Sources in an old form are renewed on the way.
   */
  async edit(path: string, change: (bytes: Uint8Array) => Uint8Array): Promise<void> {
    const before = await this.read(path);
    const content = renewed(path, before);
    this.write(
      path,
      looksPacked(content) && hasStructure(path)
        ? packedLike(content, change(unpackedStep(content)))
        : change(content),
    );
  }

  /**
   * Tells of a link that a written content holds and that was not there before.
   * @param before how it was written where the content comes from
   */
  linked({ holder, kind, written }: LinkOf, to: string, before = ''): void {
    const target = this.needed(to);
    this.needed(holder).rewired.set(`${kind} ${written}`, {
      written: before,
      rewritten: written,
      target,
      was: null,
      isMeant: true,
    });
  }

  /** Moves or renames a file. @throws Error when another lies at its new path */
  async move(path: string, to: string): Promise<void> {
    if (path === to) return;
    const file = this.needed(path);
    if (this.isTaken(to) && foldPath(to) !== foldPath(path)) throw new Error(`${to} exists already.`);
    await this.settle();
    this.leave(file);
    file.path = to;
    this.arrive(file);
    this.touched.add(file);
  }

  /** Removes a file. What leads to it leads nowhere. */
  async remove(path: string): Promise<void> {
    const file = this.needed(path);
    await this.settle();
    this.leave(file);
    file.isGone = true;
    this.touched.add(file);
  }

  /**
   * Points a link at another file. One that was set anew in this draft is known by what was written before, too.
   * @throws Error when the holder has no such link
   */
  async retarget({ holder, kind, written }: LinkOf, to: string): Promise<void> {
    const file = this.needed(holder);
    const links = await this.linksOf(file);
    const anew = [...file.rewired.values()].find((rewired) => rewired.written === written)?.rewritten;
    const isMeant = (link: HeldLink) => link.written === written || link.written === anew;
    const link = linkOfKind(kind, links.filter(isMeant));
    if (!link) throw new Error(`${holder} has no link to ${written}.`);
    link.target = this.needed(to);
    link.isMeant = true;
    this.touched.add(file);
  }

  warn(words: string): void {
    if (!this.warnings.includes(words)) this.warnings.push(words);
  }

  /** Does all of something or nothing of it: when it throws, the draft is as it was before. What it read still counts as seen. */
  async attempt<Done>(work: () => Promise<Done>): Promise<Done> {
    const { originals, arrived, left, touched, fromOutside, warnings } = this;
    const states = new Map(
      [...originals.values(), ...arrived.values(), ...touched].map((file) => [file, stateOf(file)]),
    );
    const before = { arrived: [...arrived], left: [...left], touched: [...touched] };
    const [brought, words] = [[...fromOutside], warnings.length];
    try {
      return await work();
    } catch (error) {
      for (const [file, state] of states) Object.assign(file, state);
      for (const file of originals.values())
        if (!states.has(file) && file.origin) Object.assign(file, draftFile(file.origin.path, file.origin));
      arrived.clear();
      for (const [path, file] of before.arrived) arrived.set(path, file);
      refill(left, before.left);
      refill(touched, before.touched);
      refill(fromOutside, brought);
      warnings.length = words;
      this.takenPaths = undefined;
      this.knownIndex = undefined;
      throw error;
    }
  }

  /**
   * Everything that the draft does, as one change. More may be written on the draft afterwards.
   * @param progress told before each content that is made now
   */
  async finish(
    summary: string,
    progress: (doing: string, done: number, of: number) => Promise<void> = async () => {},
  ): Promise<ChangeSet> {
    const toMake = this.options.isSketch ? [] : [...this.touched].filter(({ make }) => make !== null);
    for (const [n, file] of toMake.entries()) {
      await progress(`Writing ${baseName(file.path)}`, n, toMake.length);
      this.makeContent(file);
    }
    await this.relinkAll();
    if (!this.options.isSketch)
      for (const file of this.touched)
        if (!file.isGone && file.rewired.size > 0) forgetLinksGone(file, await this.linksOf(file));
    const changes = [...this.touched].flatMap(changeOf);
    const rewires = [...this.touched].flatMap((file) => (file.isGone ? [] : rewiresOf(file)));
    return { summary, changes, rewires, warnings: [...this.warnings] };
  }

  /**
   * What the change rests on: every file that was read or is touched, with its version below; new paths with none. A file whose links
   * follow what moves is touched whatever else it holds: it counts by those links.
   */
  seen(): SeenVersion[] {
    const versions = new Map<string, string | null>();
    for (const { origin, path, isGone } of this.touched)
      if (!isGone && path !== origin?.path) versions.set(path, null);
    for (const { origin } of [...this.readBelow, ...this.touched])
      if (origin) versions.set(origin.path, origin.sha256);
    for (const file of this.touched)
      if (onlyFollows(file) && !this.readBelow.has(file))
        versions.set(file.path, `${LINKS}${sha256(Buffer.from(JSON.stringify(rewiresOf(file))))}`);
    return [...versions].map(([path, base]) => ({ path, base })).sort((a, b) => (a.path < b.path ? -1 : 1));
  }

  private get hasMoved(): boolean {
    return this.left.size > 0;
  }

  private *paths(): Iterable<string> {
    for (const path of this.known.files.keys())
      if (!this.left.has(path) && !this.arrived.has(path)) yield path;
    yield* this.arrived.keys();
  }

  private at(path: string): DraftFile | undefined {
    return this.arrived.get(path) ?? (this.left.has(path) ? undefined : this.original(path));
  }

  private original(path: string): DraftFile | undefined {
    const known = this.originals.get(path);
    if (known) return known;
    const below = this.known.files.get(path);
    if (!below) return undefined;
    const file = draftFile(path, { path, bytes: below.bytes, sha256: below.sha256 });
    this.originals.set(path, file);
    return file;
  }

  private needed(path: string): DraftFile {
    const file = this.at(path);
    if (!file) throw new MissingFileError(path);
    return file;
  }

  private async contentOf(file: DraftFile): Promise<Uint8Array> {
    this.makeContent(file);
    if (!file.content) this.readBelow.add(file);
    return this.bytesOf(file);
  }

  /** The same for setting links anew: a plan rests on the links then, and not on what stands around them. */
  private async bytesOf({ content, origin }: DraftFile): Promise<Uint8Array> {
    if (content) return content.content ?? this.options.stored!(content.sha256);
    return this.below.read(origin!.path);
  }

  private makeContent(file: DraftFile): void {
    if (!file.make) return;
    file.content = newContent(file.make());
    file.make = null;
    file.formerly = new Set([file.content.sha256]);
  }

  private store(path: string, content: NewContent): DraftFile {
    let file = this.at(path);
    if (!file) {
      // A file that was removed comes back as the next version of what it was.
      const removed = this.originals.get(path);
      if (removed?.isGone && removed.path === path) {
        file = removed;
        file.isGone = false;
        this.left.delete(path);
      } else file = draftFile(path, null);
      this.arrive(file);
    }
    Object.assign(file, {
      content,
      make: null,
      isWritten: true,
      links: null,
      formerly: new Set([content.sha256]),
    });
    this.touched.add(file);
    return file;
  }

  private leave({ path, origin }: DraftFile): void {
    this.arrived.delete(path);
    if (origin?.path === path) this.left.add(path);
    this.count(path, -1);
    this.knownIndex = undefined;
  }

  private arrive(file: DraftFile): void {
    if (file.origin?.path === file.path) this.left.delete(file.path);
    else this.arrived.set(file.path, file);
    this.count(file.path, 1);
    this.knownIndex = undefined;
  }

  private count(path: string, by: 1 | -1): void {
    const folded = foldPath(path);
    this.takenPaths?.set(folded, (this.takenPaths.get(folded) ?? 0) + by);
  }

  private get index(): PathIndex {
    this.knownIndex ??= new PathIndex(this.paths());
    return this.knownIndex;
  }

  /** Before files change places: what contents that were written lately say is meant of the places as they are. */
  private async settle(): Promise<void> {
    for (const file of this.touched) if (file.isWritten && !file.isGone) await this.linksOf(file);
  }

  private async linksOf(file: DraftFile): Promise<HeldLink[]> {
    file.links ??= file.isWritten ? await this.readLinks(file) : this.knownLinks(file);
    // Under a name of another format nobody would find its links.
    return keepsFormat(file.origin?.path ?? file.path, file.path) ? file.links : [];
  }

  private knownLinks(file: DraftFile): HeldLink[] {
    return (this.known.uses.get(file.origin!.path) ?? []).map(({ kind, written, to, source }) => ({
      kind,
      written,
      target: to === null ? null : (this.original(to) ?? null),
      targetAt: to,
      holderAt: file.origin!.path,
      isMeant: false,
      sha256: source?.sha256 ?? null,
    }));
  }

  private async readLinks(file: DraftFile): Promise<HeldLink[]> {
    const { path } = file;
    const links = readLinks(path, await this.contentOf(file));
    return links.map(({ kind, written, source }) => {
      const { to } = this.resolve(path, written);
      const sha256 = source?.sha256 ?? null;
      return {
        kind,
        written,
        target: to === null ? null : this.at(to)!,
        targetAt: to,
        holderAt: path,
        isMeant: false,
        sha256,
      };
    });
  }

  private resolve(holder: string, written: string) {
    return resolveWritten(holder, written, this.index, this.known.searchFolders);
  }

  /** Whether a link would not lead where it shall, or only by luck, unless it is written anew. */
  private isAstray(file: DraftFile, { written, target, targetAt, holderAt, isMeant }: HeldLink): boolean {
    if (!target || target.isGone || writtenPath(file.path, written) === target.path) return false;
    if (isMeant || target.path !== targetAt) return true;
    if (file.path !== holderAt && parseWritten(written).origin === 'relative') return true;
    return this.resolve(file.path, written).to !== target.path;
  }

  /** Writes the links of a file anew that would go astray, or remember a version that only got its links anew. */
  private async relink(file: DraftFile): Promise<void> {
    const links = await this.linksOf(file);
    const wanted = links.flatMap((link) => {
      const sha256 = renewedDigest(link);
      if (sha256 === null && !this.isAstray(file, link)) return [];
      const { kind, written, target } = link;
      const retarget: Retarget = { kind, written, to: target!.path, ...(sha256 !== null && { sha256 }) };
      return [{ link, retarget }];
    });
    const { bytes, rewritten } =
      wanted.length === 0
        ? { bytes: null, rewritten: [] }
        : rewriteLinks(
            await this.bytesOf(file),
            file.path,
            wanted.map(({ retarget }) => retarget),
          );
    const anew = wanted.map(({ link }, n) => ({ link, rewritten: rewritten[n]! }));
    rewire(
      file,
      anew.filter(({ link, rewritten: now }) => link.isMeant || now !== link.written),
    );
    for (const [n, { link, retarget }] of wanted.entries())
      Object.assign(link, {
        written: rewritten[n]!,
        sha256: retarget.sha256 ?? link.sha256,
        isMeant: false,
      });
    for (const link of links) {
      // One that was meant and said so already.
      if (link.isMeant) rewire(file, [{ link, rewritten: link.written }]);
      Object.assign(link, { isMeant: false, targetAt: link.target?.path ?? null, holderAt: file.path });
    }
    if (bytes === null) return;
    file.content = newContent(bytes);
    file.formerly.add(file.content.sha256);
    this.touched.add(file);
  }

  /** Writes links anew in every file that needs it; in one that remembers a version of another, after that other. */
  private async relinkAll(): Promise<void> {
    // 1. Files that were touched, what uses those that moved, and holders of links that a new name might take over.
    const asked = new Set(this.touched);
    for (const { origin, path } of this.touched)
      if (origin && origin.path !== path) for (const holder of this.holdersOf(origin.path)) asked.add(holder);
    const names = new Set(
      [...this.arrived.values()]
        .filter((file) => !this.fromOutside.has(file))
        .map(({ path }) => foldPath(baseName(path))),
    );
    if (names.size > 0)
      for (const { holder, written, to } of this.known.links)
        if (to !== null && names.has(foldPath(baseName(written)))) asked.add(this.original(holder)!);

    // 2. Those of which links will be written anew, and what remembers their version, and so on.
    const astray = new Set<DraftFile>();
    for (const file of asked) {
      if (file.isGone || this.isFresh(file)) continue;
      const links = await this.linksOf(file);
      if (links.some((link) => link.isMeant || this.isAstray(file, link) || renewedDigest(link) !== null))
        astray.add(file);
    }
    const relinked = new Set(
      [...this.touched].filter(({ formerly }) => formerly.size > 1).concat([...astray]),
    );
    for (const file of relinked) {
      if (!file.origin || file.isWritten) continue;
      for (const holder of this.holdersOf(file.origin.path, 'source')) {
        if (holder.isGone) continue;
        astray.add(holder);
        relinked.add(holder);
      }
    }

    // 3. What was written just now may remember one of these, too.
    const hashes = [...relinked].flatMap(({ formerly }) => [...formerly]);
    if (hashes.length > 0)
      for (const file of this.touched) {
        if (file.isGone || file.make || !this.isFresh(file)) continue;
        const bytes = Buffer.from(await this.contentOf(file));
        if (hashes.some((hash) => bytes.includes(hash))) astray.add(file);
      }

    const done = new Set<DraftFile>();
    const visit = async (file: DraftFile): Promise<void> => {
      if (done.has(file)) return;
      done.add(file);
      for (const { kind, target } of await this.linksOf(file))
        if (kind === 'source' && target && astray.has(target)) await visit(target);
      await this.relink(file);
    };
    for (const file of astray) await visit(file);
  }

  /** Written since files changed places last: its links are as its plan wants them. */
  private isFresh({ isWritten, links }: DraftFile): boolean {
    return isWritten && links === null;
  }

  /** The files below that hold a link to one of them, and still do. */
  private holdersOf(path: string, kind?: LinkKind): DraftFile[] {
    return (this.known.usedBy.get(path) ?? [])
      .filter((link) => kind === undefined || link.kind === kind)
      .map(({ holder }) => this.original(holder)!);
  }
}
