import { randomUUID } from 'node:crypto';
import { lstat, mkdir, readdir } from 'node:fs/promises';
import path from 'node:path';
import { folderOf, pathProblem } from '#core/files/links/paths';
import { Refusal } from '#core/refusal';
import {
  type ChangeableFileSet,
  type ChangeSet,
  ConflictError,
  checkConflicts,
  contentsOf,
  inverse,
  withoutContents,
} from '../change-set';
import { type FileEntry, MissingFileError } from '../file-set';
import { noChange, standingOf, type WhichChange } from '../standing';
import { diskCode, diskReason, hashFile, infoOf, readPlain } from './disk';
import type { Entry, Journal } from './entry';
import { withLock } from './lock';
import { FilePlaces, PlaceTrouble, SavedMeanwhile, stepsOf } from './place';
import { FolderRecords, type OnStep } from './records';

/**
 * A folder on disk. One process at a time changes it; reading works in any state and writes nothing. A change is all or nothing:
 *
 * 1. every content that will be replaced, moved or deleted, and every new content, is kept under its hash and flushed;
 * 2. every new content is written beside its place and flushed: a full disk or a folder that may not be written ends it here, and nothing has changed;
 * 3. the journal is flushed: from here on a change that is cut off is finished by whoever changes the folder next;
 * 4. each file is put in place, after one more look whether it is still what the plan was made from; what cannot be put in place, or was saved by
 *    another program meanwhile, has everything else taken back;
 * 5. the journal becomes history.
 *
 * Symbolic links are never followed.
 */
export class FolderFileSet implements ChangeableFileSet {
  private readonly records: FolderRecords;
  private readonly places: FilePlaces;

  private constructor(
    readonly root: string,
    onStep: OnStep,
  ) {
    this.records = new FolderRecords(root, onStep);
    this.places = new FilePlaces(root, this.records, onStep);
  }

  /** Opens a folder to read it. @throws Refusal when it is none */
  static async open(root: string, onStep: OnStep = () => {}): Promise<FolderFileSet> {
    const folder = new FolderFileSet(path.resolve(root), onStep);
    if (!(await infoOf(folder.root))?.isDirectory()) throw new Refusal(`${root} is not a folder.`);
    return folder;
  }

  /** Opens a folder to change it: a change that was cut off is finished, or taken back, first. @throws Refusal also when that cannot be */
  static async openToChange(root: string, onStep: OnStep = () => {}): Promise<FolderFileSet> {
    const folder = await FolderFileSet.open(root, onStep);
    if (await folder.records.journal()) await folder.locked(async () => {});
    return folder;
  }

  /** The same, also for a folder that is not there: it is empty, and made with the first change. */
  static async openToMake(root: string, onStep: OnStep = () => {}): Promise<FolderFileSet> {
    if (await infoOf(path.resolve(root))) return FolderFileSet.openToChange(root, onStep);
    return new FolderFileSet(path.resolve(root), onStep);
  }

  async list(): Promise<FileEntry[]> {
    const entries: FileEntry[] = [];
    for (const file of await this.walk()) {
      const full = path.join(this.root, file);
      const { size } = await lstat(full);
      entries.push({ path: file, bytes: size, sha256: await hashFile(full) });
    }
    return entries;
  }

  /** Paths only, sorted, without hashing; the folder's own records and hidden folders are left out. */
  async walk(): Promise<string[]> {
    const found: string[] = [];
    const visit = async (folder: string): Promise<void> => {
      const entries = await readdir(path.join(this.root, folder), { withFileTypes: true });
      for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
        const relative = folder === '' ? entry.name : `${folder}/${entry.name}`;
        if (entry.isDirectory() && !entry.name.startsWith('.')) await visit(relative);
        else if (entry.isFile() && !entry.name.startsWith('.stonetray')) found.push(relative);
      }
    };
    if (await infoOf(this.root)) await visit('');
    return found;
  }

  async read(file: string): Promise<Uint8Array> {
    const content = await readPlain(await this.places.locate(file));
    if (content === undefined) throw new MissingFileError(file);
    return content;
  }

  async apply(changes: ChangeSet): Promise<ChangeSet> {
    return this.locked(async () => {
      this.places.forget();
      // 1. What is there now, and whether the plan still fits it.
      const steps = stepsOf(changes);
      const current = new Map<string, FileEntry>();
      for (const { file } of steps) {
        // A path that cannot be is a conflict, in its own words.
        const entry = pathProblem(file) ? null : await this.places.entryAt(file);
        if (entry) current.set(file, entry);
      }
      checkConflicts(changes, (file) => current.get(file));

      // 2. Keep the old contents and the new ones, write these beside their places, and the journal, which makes it so.
      const journal: Journal = {
        id: `${new Date().toISOString().replace(/[:.]/g, '-')}-${randomUUID().slice(0, 8)}`,
        time: new Date().toISOString(),
        ...changes,
        changes: withoutContents(changes.changes),
        direction: 'forward',
        staged: {},
      };
      try {
        for (const { path: file, sha256 } of current.values())
          await this.records.keep(sha256, async () => readPlain(await this.places.locate(file)));
        for (const { sha256, content } of contentsOf(changes))
          if (content) await this.records.keep(sha256, async () => content);
        const arriving = steps.flatMap(({ file, before, after }) =>
          after === null || after === before ? [] : [[file, after] as const],
        );
        await this.records.noteFolders(steps.map(({ file }) => folderOf(file)));
        journal.staged = await this.places.stage(new Map(arriving));
        await this.records.writeJournal(journal);
      } catch (error) {
        await this.places.drop(journal.staged);
        throw this.nothingChanged(error);
      }
      await this.carryOut(journal);
      await this.records.forgetFolders();
      const sizes = new Map([...current.values()].map(({ sha256, bytes }) => [sha256, bytes]));
      return inverse(journal, (hash) => sizes.get(hash)!);
    });
  }

  /** A content that was replaced or moved here, by its hash; undefined when it is not kept, or is damaged. */
  async kept(sha256: string): Promise<Uint8Array | undefined> {
    return this.records.content(sha256);
  }

  /** What was done in this folder, oldest first. */
  async history(): Promise<{ id: string; time: string; summary: string }[]> {
    return (await this.records.history()).map(({ id, time, summary }) => ({ id, time, summary }));
  }

  /** The change that was cut off here, in words; null when none was. Whoever changes the folder next finishes it or takes it back. */
  async interrupted(): Promise<string | null> {
    return (await this.records.journal())?.summary ?? null;
  }

  /**
   * The ChangeSet that takes a change back.
   * @param which a change by its id, the latest that still stands, or, to make that again, the latest that took one back
   * @throws Refusal when there is none, or when what it replaced is no longer kept
   */
  async planUndo(which: WhichChange = null): Promise<ChangeSet> {
    const entries = await this.records.history();
    const { back, forward } = standingOf(entries);
    const id = which === null ? back : which === 'taken back' ? forward : which;
    const entry = entries.find((candidate) => candidate.id === id);
    if (!entry) throw new Refusal(noChange(which, 'in this folder', entries.length));
    return { ...(await this.inverseOf(entry)), undoes: entry.id };
  }

  /**
   * Lets go of contents that only changes before some time need, and of everything that killed commands left.
   * @returns how many contents were let go, and their bytes
   */
  async tidy(before: Date): Promise<{ contents: number; bytes: number }> {
    return this.locked(async () => {
      await this.places.sweepAll();
      return this.records.dropContents(before);
    });
  }

  /** Does something to the folder alone, after whatever was cut off. */
  private async locked<Made>(work: () => Promise<Made>): Promise<Made> {
    try {
      await mkdir(this.root, { recursive: true });
      await this.records.prepare();
    } catch (error) {
      throw this.nothingChanged(error);
    }
    return withLock(this.records.at('lock'), async () => {
      await this.records.sweep();
      const journal = await this.records.journal();
      if (journal) await this.carryOut(journal);
      for (const folder of await this.records.foldersNoted()) await this.places.sweep(folder);
      await this.records.forgetFolders();
      return work();
    });
  }

  private nothingChanged(error: unknown): unknown {
    if (error instanceof PlaceTrouble)
      return new Refusal(
        `Nothing was changed: ${error.file} cannot be written, for ${error.reason}. See to that, and try again.`,
      );
    if (diskCode(error) === undefined) return error;
    return new Refusal(
      `Nothing was changed: ${this.records.at()} cannot be written, for ${diskReason(error)}. See to that, and try again.`,
    );
  }

  /** Does what a journal says, or takes it back where it cannot be done. Whatever of it is already done is passed over. */
  private async carryOut(journal: Journal): Promise<void> {
    this.places.forget();
    if (journal.direction === 'back') return this.takeBack(journal, []);
    try {
      for (const { file, before, after } of stepsOf(journal))
        await this.places.put(file, before, after, journal.staged[file]);
    } catch (error) {
      if (error instanceof SavedMeanwhile) return this.takeBack(journal, [error.file]);
      if (!(error instanceof PlaceTrouble)) throw error;
      return this.takeBack(journal, [], error);
    }
    await this.records.close(journal);
  }

  /**
   * Takes back what a change has done so far. What other programs saved stays.
   * @throws ConflictError or Refusal always: with words for why, and for the state that the folder is in
   */
  private async takeBack(journal: Journal, saved: string[], trouble?: PlaceTrouble): Promise<void> {
    try {
      if (journal.direction !== 'back') await this.records.writeJournal({ ...journal, direction: 'back' });
      for (const { file, before, after } of stepsOf(journal).reverse())
        await this.places.put(file, after, before).catch((error) => {
          if (!(error instanceof SavedMeanwhile)) throw error;
          if (!saved.includes(error.file)) saved.push(error.file);
        });
      await this.places.drop(journal.staged);
      await this.records.dropJournal();
    } catch (error) {
      const why = error instanceof PlaceTrouble ? `${error.file}, for ${error.reason}` : diskReason(error);
      throw new Refusal(
        `“${journal.summary}” was broken off${trouble ? `, for ${trouble.reason} (${trouble.file})` : ''}, and could not be taken back whole: ${why}. The folder is between two states. Nothing is lost: see to that, and the next change sees to the rest first.`,
      );
    }
    if (saved.some((file) => file !== trouble?.file))
      throw new ConflictError(
        saved.map((file) => ({
          path: file,
          problem: 'was saved by another program meanwhile; that content is in its place, and is kept',
        })),
      );
    if (trouble)
      throw new Refusal(
        `Nothing was changed: ${trouble.file} cannot be written, for ${trouble.reason}. What was done already was taken back. See to that, and try again.`,
      );
  }

  private async inverseOf(entry: Entry): Promise<ChangeSet> {
    const sizes = new Map<string, number>();
    for (const change of entry.changes) {
      if (change.base === null || sizes.has(change.base)) continue;
      const content = await this.records.content(change.base);
      if (!content)
        throw new Refusal(
          `This change cannot be taken back: what ${change.path} was before is no longer kept in this folder, or is damaged.`,
        );
      sizes.set(change.base, content.byteLength);
    }
    return inverse(entry, (hash) => sizes.get(hash)!);
  }
}
