import { randomUUID } from 'node:crypto';
import { link, mkdir, readdir, rename, rm, rmdir } from 'node:fs/promises';
import path from 'node:path';
import { pathProblem } from '#core/files/links/paths';
import { Refusal } from '#core/refusal';
import type { ChangeSet, FileChange } from '../change-set';
import type { FileEntry } from '../file-set';
import { diskCode, diskReason, flushFolder, hashFile, infoOf, readPlain, writeFlushed } from './disk';
import type { FolderRecords, OnStep } from './records';

/** Names of files beside their places. */
const BESIDE = /^\.stonetray-[0-9a-f-]{36}$/;

/** The disk refused a file. */
export class PlaceTrouble extends Error {
  constructor(
    readonly file: string,
    readonly reason: string,
  ) {
    super(`${file}: ${reason}`);
  }
}

/** Another program saved a file while it was being replaced: that content is there, and kept. */
export class SavedMeanwhile extends Error {
  constructor(readonly file: string) {
    super(file);
  }
}

/** Hash of a file that a path shall have, or has; null for no file. */
type Content = string | null;

/** What each path holds before a change and after it. */
function statesOf(changes: readonly FileChange[]): Map<string, { before: Content; after: Content }> {
  const states = new Map<string, { before: Content; after: Content }>();
  const state = (file: string) => {
    const known = states.get(file) ?? { before: null, after: null };
    states.set(file, known);
    return known;
  };
  for (const change of changes) {
    state(change.path).before = change.base;
    if (change.action === 'write') state(change.path).after = change.sha256;
    if (change.action === 'move') state(change.to).after = change.written?.sha256 ?? change.base;
  }
  return states;
}

/**
 * Puts files of a folder in their places, one by one, each in a way that loses nothing: a new content is flushed beside its place first; what is
 * replaced is held by a second name until its hash is checked.
 */
export class FilePlaces {
  /** Folders on the way to files that were looked at: none of them is a symbolic link. */
  private readonly plainFolders = new Set<string>();

  constructor(
    private readonly root: string,
    private readonly records: FolderRecords,
    private readonly onStep: OnStep,
  ) {}

  /** Before anything is written, the way to it is looked at anew. */
  forget(): void {
    this.plainFolders.clear();
  }

  /** @throws Refusal when a path leaves the folder, in words or through a symbolic link on the way */
  async locate(file: string): Promise<string> {
    const problem = pathProblem(file);
    if (problem) throw new Refusal(`${file}: ${problem}.`);
    let full = this.root;
    for (const segment of file.split('/').slice(0, -1)) {
      full = path.join(full, segment);
      if (this.plainFolders.has(full)) continue;
      const info = await infoOf(full);
      if (info?.isSymbolicLink())
        throw new Refusal(`${file}: ${segment} is a symbolic link, which is never followed.`);
      if (info) this.plainFolders.add(full);
    }
    return path.join(this.root, file);
  }

  /** What is at a path now; null for no file. @throws Refusal for anything but a file */
  async entryAt(file: string): Promise<FileEntry | null> {
    const full = await this.locate(file);
    const info = await infoOf(full);
    if (info && !info.isFile()) throw new Refusal(`${file} is not an ordinary file.`);
    return info ? { path: file, bytes: info.size, sha256: await hashFile(full) } : null;
  }

  private async contentAt(file: string): Promise<Content> {
    return (await this.entryAt(file))?.sha256 ?? null;
  }

  /**
   * Writes new contents beside their places, flushed. @returns their names, by path
   * @throws PlaceTrouble; nothing of it is left then
   */
  async stage(contents: ReadonlyMap<string, string>): Promise<{ [file: string]: string }> {
    const staged: { [file: string]: string } = {};
    try {
      for (const [file, hash] of contents) staged[file] = await this.stageOne(file, hash);
    } catch (error) {
      await this.drop(staged);
      throw error;
    }
    return staged;
  }

  private async stageOne(file: string, hash: string): Promise<string> {
    const full = await this.locate(file);
    const name = `.stonetray-${randomUUID()}`;
    const beside = path.join(path.dirname(full), name);
    await this.onStep(`stage ${file}`);
    try {
      const content = await this.records.content(hash);
      if (!content)
        throw new Refusal(`The content for ${file} is no longer kept in this folder, or is damaged.`);
      await mkdir(path.dirname(full), { recursive: true });
      await writeFlushed(beside, content);
      return name;
    } catch (error) {
      await rm(beside, { force: true }).catch(() => {});
      await this.removeEmptyFolders(path.dirname(full));
      throw troubleWith(file, error);
    }
  }

  /** Takes away what was staged and is not wanted any more. */
  async drop(staged: { readonly [file: string]: string }): Promise<void> {
    for (const [file, name] of Object.entries(staged)) {
      const folder = path.dirname(path.join(this.root, file));
      await rm(path.join(folder, name), { force: true }).catch(() => {});
      await this.removeEmptyFolders(folder);
    }
  }

  /**
   * Makes a path hold a content, or no file, if it holds what is expected. What it should hold already it may hold.
   * @param name of the content beside its place, where it is staged
   * @throws PlaceTrouble; SavedMeanwhile when something else is there: it stays, and is kept
   */
  async put(file: string, from: Content, to: Content, name?: string): Promise<void> {
    try {
      const now = await this.contentAt(file).catch((error) => {
        // Where no file is to be, what is none is somebody's own.
        throw to === null && error instanceof Refusal ? new SavedMeanwhile(file) : error;
      });
      if (now !== to) {
        if (now !== from) throw await this.saved(file, now);
        await this.onStep(to === null ? `remove ${file}` : `place ${file}`);
        if (to === null) await this.remove(file, from!);
        else await this.replace(file, from, to, name);
      }
      if (name !== undefined) await this.drop({ [file]: name });
    } catch (error) {
      throw troubleWith(file, error);
    }
  }

  private async replace(file: string, from: Content, to: string, name: string | undefined): Promise<void> {
    const full = await this.locate(file);
    const folder = path.dirname(full);
    let beside = name === undefined ? undefined : path.join(folder, name);
    if (!beside || !(await infoOf(beside))?.isFile() || (await hashFile(beside)) !== to)
      beside = path.join(folder, await this.stageOne(file, to));
    if (from === null) await this.takeFree(file, beside, full);
    else await this.takeOver(file, from, beside, full);
    await flushFolder(folder);
  }

  /** A place that was free: whoever came before keeps it. */
  private async takeFree(file: string, beside: string, full: string): Promise<void> {
    try {
      await link(beside, full);
      await rm(beside, { force: true });
    } catch (error) {
      if (diskCode(error) === 'EEXIST') throw await this.saved(file, await this.contentAt(file));
      // Some disks know no second names.
      await rename(beside, full);
    }
  }

  /** A file that is replaced: by a second name it is still there to be looked at. */
  private async takeOver(file: string, from: string, beside: string, full: string): Promise<void> {
    const aside = path.join(path.dirname(full), `.stonetray-${randomUUID()}`);
    const isHeld = await link(full, aside).then(
      () => true,
      () => false,
    );
    try {
      if (isHeld && (await hashFile(aside)) !== from) throw await this.saved(file, await hashFile(full));
      const before = isHeld ? await infoOf(aside) : undefined;
      const there = await infoOf(full);
      if (isHeld && there?.ino !== before!.ino) throw await this.saved(file, await this.contentAt(file));
      await rename(beside, full);
      const after = isHeld ? await infoOf(aside) : undefined;
      if (after && (after.mtimeMs !== before!.mtimeMs || after.size !== before!.size)) {
        const late = await hashFile(aside);
        if (late !== from) {
          // Written into while it was replaced: what was written goes back to its place.
          await this.records.keep(late, () => readPlain(aside));
          await rename(aside, full);
          throw new SavedMeanwhile(file);
        }
      }
    } finally {
      await rm(aside, { force: true });
    }
  }

  private async remove(file: string, from: string): Promise<void> {
    const full = await this.locate(file);
    const folder = path.dirname(full);
    const aside = path.join(folder, `.stonetray-${randomUUID()}`);
    await rename(full, aside);
    const gone = await hashFile(aside);
    if (gone !== from) {
      await this.records.keep(gone, () => readPlain(aside));
      await link(aside, full).catch(() => rename(aside, full));
      await rm(aside, { force: true });
      throw new SavedMeanwhile(file);
    }
    await rm(aside, { force: true });
    await flushFolder(folder);
    await this.removeEmptyFolders(folder);
  }

  /** Keeps what another program saved. */
  private async saved(file: string, now: Content): Promise<SavedMeanwhile> {
    if (now !== null) await this.records.keep(now, async () => readPlain(await this.locate(file)));
    return new SavedMeanwhile(file);
  }

  /** Takes away what killed commands left beside the files of a folder. */
  async sweep(folder: string): Promise<void> {
    const here = path.dirname(await this.locate(folder === '' ? 'file' : `${folder}/file`));
    const names = await readdir(here).catch(() => []);
    for (const name of names) if (BESIDE.test(name)) await rm(path.join(here, name), { force: true });
    await this.removeEmptyFolders(here);
  }

  /** The same in all folders. */
  async sweepAll(folder = ''): Promise<void> {
    for (const entry of await readdir(path.join(this.root, folder), { withFileTypes: true })) {
      const within = folder === '' ? entry.name : `${folder}/${entry.name}`;
      if (entry.isFile() && BESIDE.test(entry.name)) await rm(path.join(this.root, within), { force: true });
      if (entry.isDirectory() && !entry.name.startsWith('.')) await this.sweepAll(within);
    }
  }

  /** A folder that has lost its last file goes, and so do those above it that hold nothing else. */
  private async removeEmptyFolders(folder: string): Promise<void> {
    for (let at = folder; at.startsWith(this.root + path.sep); at = path.dirname(at)) {
      const isGone = await rmdir(at).then(
        () => true,
        () => false,
      );
      if (!isGone) return;
    }
  }
}

function troubleWith(file: string, error: unknown): unknown {
  if (error instanceof Refusal) return new PlaceTrouble(file, error.message.replace(/\.$/, ''));
  return diskCode(error) === undefined ? error : new PlaceTrouble(file, diskReason(error));
}

/** What must be carried out, in order: what arrives first, and then what leaves. */
export function stepsOf({
  changes,
}: Pick<ChangeSet, 'changes'>): { file: string; before: Content; after: Content }[] {
  const states = [...statesOf(changes)].map(([file, state]) => ({ file, ...state }));
  return [...states.filter(({ after }) => after !== null), ...states.filter(({ after }) => after === null)];
}
