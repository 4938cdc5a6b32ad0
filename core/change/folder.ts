import { createHash, randomUUID } from 'node:crypto';
import { closeSync, constants, createReadStream, fstatSync, openSync, readSync } from 'node:fs';
import {
  copyFile,
  type FileHandle,
  lstat,
  mkdir,
  open,
  readdir,
  readFile,
  rename,
  rm,
  rmdir,
} from 'node:fs/promises';
import path from 'node:path';
import { pathProblem } from '#core/links/paths';
import { Refusal } from '#core/refusal';
import {
  type ChangeableFileSet,
  type ChangeSet,
  checkConflicts,
  type FileChange,
  inverse,
  withoutContents,
} from './change-set';
import { type FileEntry, MissingFileError } from './file-set';

/** Where a folder keeps its journal, the contents that were replaced, and what was done. */
const OWN_FOLDER = '.stonetray';

/** A ChangeSet as the journal keeps it: its contents lie in `kept`, by hash. */
interface Entry extends ChangeSet {
  id: string;
  time: string;
}

/** Bytes up to which a file is read at once. */
const SMALL = 256 * 1024;

/** For tests: called before each step that changes the disk; throwing there is like being killed there. */
export type OnStep = (step: string) => void;

/**
 * A folder on disk. Applying is atomic over a crash:
 *
 * 1. every content that will be replaced, moved or deleted, and every new content, is stored under its hash in
 *    `.stonetray/kept` and flushed;
 * 2. the journal is flushed and renamed into place: from here on the change counts as made;
 * 3. each file is put in place by a flushed temporary file and a rename;
 * 4. the journal moves to the history.
 *
 * Killed before 2, nothing has changed; killed later, the next `open` finishes steps 3 and 4. Symbolic links are
 * never followed.
 */
export class FolderFileSet implements ChangeableFileSet {
  /** Folders on the way to files that were looked at: none of them is a symbolic link. */
  private readonly plainFolders = new Set<string>();

  private constructor(
    readonly root: string,
    private readonly onStep: OnStep,
  ) {}

  /** Opens a folder and finishes a change that was interrupted. */
  static async open(root: string, onStep: OnStep = () => {}): Promise<FolderFileSet> {
    const folder = await FolderFileSet.openToMake(root, onStep);
    if (!(await folder.isThere())) throw new Error(`${root} is not a folder.`);
    return folder;
  }

  /** The same, also for a folder that is not there: it is empty, and made with the first change. */
  static async openToMake(root: string, onStep: OnStep = () => {}): Promise<FolderFileSet> {
    const folder = new FolderFileSet(path.resolve(root), onStep);
    const info = await lstat(folder.root).catch(() => undefined);
    if (info && !info.isDirectory()) throw new Error(`${root} is not a folder.`);
    await folder.finishInterrupted();
    return folder;
  }

  private async isThere(): Promise<boolean> {
    return (await lstat(this.root).catch(() => undefined)) !== undefined;
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
    if (await this.isThere()) await visit('');
    return found;
  }

  async read(file: string): Promise<Uint8Array> {
    const full = await this.locate(file);
    const content = readSmall(full);
    if (content === undefined) throw new MissingFileError(file);
    return content ?? readFile(full);
  }

  async apply(changes: ChangeSet): Promise<ChangeSet> {
    // Before anything is written, the way to it is looked at anew.
    this.plainFolders.clear();
    // 1. What is there now, and whether the plan still fits it.
    const current = new Map<string, FileEntry>();
    for (const change of changes.changes) {
      for (const file of change.action === 'move' ? [change.path, change.to] : [change.path]) {
        if (pathProblem(file)) continue;
        const full = await this.locate(file);
        const info = await lstat(full).catch(() => undefined);
        if (info && !info.isFile()) throw new Error(`${file} is not an ordinary file.`);
        if (info) current.set(file, { path: file, bytes: info.size, sha256: await hashFile(full) });
      }
    }
    checkConflicts(changes, (file) => current.get(file));

    // 2. Keep the old contents and stage the new ones.
    await mkdir(this.own('kept'), { recursive: true });
    for (const { path: file, sha256: hash } of current.values())
      await this.keep(hash, (to) => copyFile(path.join(this.root, file), to));
    for (const change of changes.changes) {
      const written = change.action === 'write' ? change : change.action === 'move' && change.written;
      if (!written) continue;
      const { content } = written;
      if (content) await this.keep(written.sha256, (to) => writeFlushed(to, content));
      else if (!(await lstat(this.own('kept', written.sha256)).catch(() => undefined)))
        throw new Error(`The content for ${change.path} is no longer kept in this folder.`);
    }

    // 3. The journal makes it so.
    const entry: Entry = {
      id: `${new Date().toISOString().replace(/[:.]/g, '-')}-${randomUUID().slice(0, 8)}`,
      time: new Date().toISOString(),
      ...changes,
      changes: withoutContents(changes.changes),
    };
    this.onStep('journal');
    await writeFlushed(this.own('journal.part'), Buffer.from(JSON.stringify(entry, null, 1)));
    await rename(this.own('journal.part'), this.own('journal.json'));
    await flushFolder(this.own());
    await this.carryOut(entry);
    return this.inverseOf(entry);
  }

  /** A content that was replaced or moved here, by its hash; undefined when it is not kept. */
  async kept(sha256: string): Promise<Uint8Array | undefined> {
    if (!/^[0-9a-f]{64}$/.test(sha256)) return undefined;
    return readFile(this.own('kept', sha256)).catch(() => undefined);
  }

  /** What was done in this folder, oldest first. */
  async history(): Promise<{ id: string; time: string; summary: string }[]> {
    return (await this.entries()).map(({ id, time, summary }) => ({ id, time, summary }));
  }

  private async entries(): Promise<Entry[]> {
    const names = await readdir(this.own('history')).catch(() => []);
    const entries: Entry[] = [];
    for (const name of names.sort())
      entries.push(JSON.parse(await readFile(this.own('history', name), 'utf8')) as Entry);
    return entries;
  }

  /**
   * The ChangeSet that takes a change back.
   * @param id of the change; null for the latest
   * @throws Refusal when there is none
   */
  async planUndo(id: string | null = null): Promise<ChangeSet> {
    const entries = await this.entries();
    const entry = id === null ? entries.at(-1) : entries.find((candidate) => candidate.id === id);
    if (!entry)
      throw new Refusal(
        id === null
          ? 'Nothing has been changed in this folder.'
          : `No change in this folder has the id ${id}.`,
      );
    return { ...(await this.inverseOf(entry)), undoes: entry.id };
  }

  private async finishInterrupted(): Promise<void> {
    await rm(this.own('journal.part'), { force: true });
    const text = await readFile(this.own('journal.json'), 'utf8').catch(() => undefined);
    if (text !== undefined) await this.carryOut(JSON.parse(text) as Entry);
  }

  /** Idempotent: whatever of the entry is already done is done again to the same end. */
  private async carryOut(entry: Entry): Promise<void> {
    const arriving = new Set(
      entry.changes.flatMap((change) =>
        change.action === 'write' ? [change.path] : change.action === 'move' ? [change.to] : [],
      ),
    );
    for (const change of entry.changes) {
      if (change.action === 'delete') continue;
      const target = await this.locate(change.action === 'move' ? change.to : change.path);
      this.onStep(`place ${target}`);
      await mkdir(path.dirname(target), { recursive: true });
      const temporary = path.join(path.dirname(target), `.stonetray-${randomUUID()}`);
      await writeFlushed(temporary, await readFile(this.own('kept', arrivingContent(change))));
      await rename(temporary, target);
      await flushFolder(path.dirname(target));
    }
    for (const change of entry.changes) {
      if (change.action === 'write' || arriving.has(change.path)) continue;
      this.onStep(`remove ${change.path}`);
      const leaving = await this.locate(change.path);
      await rm(leaving, { force: true });
      await this.removeEmptyFolders(path.dirname(leaving));
    }
    this.onStep('close');
    await mkdir(this.own('history'), { recursive: true });
    await rename(this.own('journal.json'), this.own('history', `${entry.id}.json`));
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

  private async inverseOf(entry: Entry): Promise<ChangeSet> {
    const sizes = new Map<string, number>();
    for (const { base } of entry.changes)
      if (base !== null) sizes.set(base, (await lstat(this.own('kept', base))).size);
    return inverse(entry, (hash) => sizes.get(hash)!);
  }

  private async keep(hash: string, put: (to: string) => Promise<void>): Promise<void> {
    const kept = this.own('kept', hash);
    if (await lstat(kept).catch(() => undefined)) return;
    const temporary = this.own('kept', `.part-${randomUUID()}`);
    this.onStep(`keep ${hash}`);
    await put(temporary);
    if ((await hashFile(temporary)) !== hash)
      throw new Error('A file changed while it was being read. Nothing was changed; try again.');
    const handle = await open(temporary, 'r+');
    await handle.sync().finally(() => handle.close());
    await rename(temporary, kept);
  }

  /** @throws Error when the path leaves the folder, in words or through a symbolic link on the way */
  private async locate(file: string): Promise<string> {
    const problem = pathProblem(file);
    if (problem) throw new Error(`${file}: ${problem}.`);
    let full = this.root;
    for (const segment of file.split('/').slice(0, -1)) {
      full = path.join(full, segment);
      if (this.plainFolders.has(full)) continue;
      const info = await lstat(full).catch(() => undefined);
      if (info?.isSymbolicLink())
        throw new Error(`${file}: ${segment} is a symbolic link, which is never followed.`);
      if (info) this.plainFolders.add(full);
    }
    return path.join(this.root, file);
  }

  private own(...parts: string[]): string {
    return path.join(this.root, OWN_FOLDER, ...parts);
  }
}

/** Hash of what lies at the new place. */
function arrivingContent(change: Exclude<FileChange, { action: 'delete' }>): string {
  return change.action === 'write' ? change.sha256 : (change.written?.sha256 ?? change.base);
}

async function writeFlushed(file: string, content: Uint8Array): Promise<void> {
  const handle: FileHandle = await open(file, 'w');
  try {
    await handle.writeFile(content);
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/**
 * Reads a small file at once: to hand it to the disk and to wait for it costs several times what reading it does.
 * @returns null for a file that is not small; undefined where there is no file, or something else
 */
function readSmall(full: string): Uint8Array | null | undefined {
  let file: number;
  try {
    // A link is never followed, and what waits for a writer is no file.
    file = openSync(full, constants.O_RDONLY | constants.O_NOFOLLOW | constants.O_NONBLOCK);
  } catch (error) {
    if (['ENOENT', 'ENOTDIR', 'ELOOP', 'ENXIO'].includes((error as NodeJS.ErrnoException).code ?? ''))
      return undefined;
    throw error;
  }
  try {
    const info = fstatSync(file);
    if (!info.isFile()) return undefined;
    if (info.size > SMALL) return null;
    const content = Buffer.allocUnsafeSlow(info.size);
    let length = 0;
    while (length < info.size) {
      const read = readSync(file, content, length, info.size - length, length);
      if (read === 0) break;
      length += read;
    }
    return content.subarray(0, length);
  } finally {
    closeSync(file);
  }
}

/** A rename is safe on disk only once its folder is. */
async function flushFolder(folder: string): Promise<void> {
  const handle = await open(folder, 'r');
  await handle.sync().finally(() => handle.close());
}

async function hashFile(file: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(file)) hash.update(chunk as Buffer);
  return hash.digest('hex');
}
