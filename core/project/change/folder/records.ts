import { randomUUID } from 'node:crypto';
import { mkdir, readdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import type { z } from 'zod';
import { Refusal } from '#core/refusal';
import { sha256 } from '../file-set';
import { Hash } from '../recorded-change';
import { flushFolder, hashFile, infoOf, readPlain, writeFlushed } from './disk';
import { Entry, Folders, Journal } from './entry';

/** Where a folder keeps its records. */
export const OWN_FOLDER = '.stonetray';
/** Names of temporary files in `kept`. */
const PART = '.part-';

/** For tests: awaited before each step that changes the disk; never to go on is to be killed there. */
export type OnStep = (step: string) => void | Promise<void>;

/**
 * What a folder keeps for itself: contents that were replaced or are about to be written, by their hash (`kept`), what was done (`history`), and
 * the change that is under way (`journal.json`). A folder that was received may bring such records along, so nothing in them is believed:
 * they are read by schema, their names are plain, links are never followed, and a content counts only when it has its hash.
 */
export class FolderRecords {
  constructor(
    private readonly root: string,
    private readonly onStep: OnStep,
  ) {}

  at(...parts: string[]): string {
    return path.join(this.root, OWN_FOLDER, ...parts);
  }

  /** Makes the folders of the records. @throws Refusal when something else stands in their place */
  async prepare(): Promise<void> {
    for (const folder of [this.at(), this.at('kept'), this.at('history')]) {
      await this.checkOwn(folder);
      await mkdir(folder, { recursive: true });
    }
  }

  private async checkOwn(folder: string): Promise<boolean> {
    const info = await infoOf(folder);
    if (info && !info.isDirectory())
      throw new Refusal(
        `${folder} is ${info.isSymbolicLink() ? 'a symbolic link' : 'no folder'}, and not this folder’s own record. Take it away and try again.`,
      );
    return info !== undefined;
  }

  /** Keeps a content under its hash, flushed. One that is there already, and whole, is not kept twice. */
  async keep(hash: string, content: () => Promise<Uint8Array | undefined>): Promise<void> {
    const kept = this.at('kept', Hash.parse(hash));
    const info = await infoOf(kept);
    if (info?.isFile() && (await hashFile(kept)) === hash) return;
    const bytes = await content();
    if (bytes === undefined || sha256(bytes) !== hash)
      throw new Refusal('A file changed while it was being read. Nothing was changed; try again.');
    const temporary = this.at('kept', `${PART}${randomUUID()}`);
    await this.onStep(`keep ${hash}`);
    try {
      await writeFlushed(temporary, bytes);
      await rename(temporary, kept);
    } catch (error) {
      await rm(temporary, { force: true }).catch(() => {});
      throw error;
    }
    await flushFolder(this.at('kept'));
  }

  /** A content by its hash; undefined when it is not kept, or is no longer what it was. */
  async content(hash: string): Promise<Uint8Array | undefined> {
    if (!Hash.safeParse(hash).success || !(await this.checkOwn(this.at('kept')))) return undefined;
    const bytes = await readPlain(this.at('kept', hash));
    return bytes && sha256(bytes) === hash ? bytes : undefined;
  }

  /** What was done here, oldest first. Records that cannot be read are passed over. */
  async history(): Promise<Entry[]> {
    if (!(await this.checkOwn(this.at('history')))) return [];
    const entries: Entry[] = [];
    for (const name of (await readdir(this.at('history'))).sort()) {
      const entry = parsed(Entry, await readPlain(this.at('history', name)));
      if (entry && name === `${entry.id}.json`) entries.push(entry as Entry);
    }
    return entries;
  }

  /** The change that is under way, or was cut off. @throws Refusal for one that cannot be read */
  async journal(): Promise<Journal | undefined> {
    if (!(await this.checkOwn(this.at()))) return undefined;
    const bytes = await readPlain(this.at('journal.json'));
    if (bytes === undefined) return undefined;
    const journal = parsed(Journal, bytes);
    if (!journal)
      throw new Refusal(
        `${this.at('journal.json')} cannot be read, so nobody knows which change was cut off here. Compare the folder with a copy, then take that file away.`,
      );
    return journal as Journal;
  }

  /** Writes down what is being done, before it is. */
  async writeJournal(journal: Journal): Promise<void> {
    await this.onStep('journal');
    const temporary = this.at('journal.part');
    await rm(temporary, { force: true });
    await writeFlushed(temporary, Buffer.from(JSON.stringify(journal, null, 1)));
    await rename(temporary, this.at('journal.json'));
    await flushFolder(this.at());
  }

  /** The change is done: what was under way is history. */
  async close({ direction, staged, ...entry }: Journal): Promise<void> {
    await this.onStep('close');
    const temporary = this.at('history', `${PART}${randomUUID()}`);
    await writeFlushed(temporary, Buffer.from(JSON.stringify(entry, null, 1)));
    await rename(temporary, this.at('history', `${entry.id}.json`));
    await flushFolder(this.at('history'));
    await this.dropJournal();
  }

  /** Notes in which folders contents are about to lie beside their places, for whoever comes after a killed command. */
  async noteFolders(folders: readonly string[]): Promise<void> {
    await rm(this.at('folders.json'), { force: true });
    await writeFlushed(this.at('folders.json'), Buffer.from(JSON.stringify([...new Set(folders)])));
  }

  async foldersNoted(): Promise<string[]> {
    return parsed(Folders, await readPlain(this.at('folders.json'))) ?? [];
  }

  async forgetFolders(): Promise<void> {
    await rm(this.at('folders.json'), { force: true });
  }

  /** The change is not done: it was taken back, or never began. */
  async dropJournal(): Promise<void> {
    await rm(this.at('journal.json'), { force: true });
    await flushFolder(this.at());
  }

  /** Takes away what a killed command left in the records. */
  async sweep(): Promise<void> {
    await rm(this.at('journal.part'), { force: true });
    for (const folder of ['kept', 'history'])
      for (const name of await readdir(this.at(folder)))
        if (name.startsWith(PART)) await rm(this.at(folder, name), { force: true });
  }

  /**
   * Lets go of contents that only changes before some time need. Those changes stay in the history, and cannot be taken back any more.
   * @returns how many were let go, and their bytes
   */
  async dropContents(before: Date): Promise<{ contents: number; bytes: number }> {
    const needed = new Set<string>();
    for (const { time, changes } of await this.history())
      if (new Date(time) >= before)
        for (const change of changes) {
          if (change.base !== null) needed.add(change.base);
          if (change.action === 'write') needed.add(change.sha256);
          if (change.action === 'move' && change.written) needed.add(change.written.sha256);
        }
    const dropped = { contents: 0, bytes: 0 };
    for (const name of await readdir(this.at('kept'))) {
      if (!Hash.safeParse(name).success || needed.has(name)) continue;
      const info = await infoOf(this.at('kept', name));
      if (!info?.isFile() || info.mtime >= before) continue;
      await rm(this.at('kept', name), { force: true });
      dropped.contents++;
      dropped.bytes += info.size;
    }
    return dropped;
  }
}

function parsed<Read>(schema: z.ZodType<Read>, bytes: Uint8Array | undefined): Read | undefined {
  if (!bytes) return undefined;
  try {
    return schema.parse(JSON.parse(Buffer.from(bytes).toString('utf8')));
  } catch {
    return undefined;
  }
}
