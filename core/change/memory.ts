import { type ChangeSet, checkConflicts, inverse } from './change-set';
import { type ChangeableFileSet, type FileEntry, MissingFileError, sha256 } from './file-set';

/** Files in memory: for tests, and for packages before they are written. */
export class MemoryFileSet implements ChangeableFileSet {
  private files: Map<string, Uint8Array>;

  constructor(files: Iterable<readonly [string, Uint8Array | string]> = []) {
    this.files = new Map([...files].map(([path, content]) => [path, typeof content === 'string' ? new TextEncoder().encode(content) : content]));
  }

  async list(): Promise<FileEntry[]> {
    return [...this.files].map(([path, content]) => ({ path, bytes: content.byteLength, sha256: sha256(content) }));
  }

  async read(path: string): Promise<Uint8Array> {
    const content = this.files.get(path);
    if (!content) throw new MissingFileError(path);
    return content;
  }

  async apply(changes: ChangeSet): Promise<ChangeSet> {
    checkConflicts(changes, (path) => {
      const content = this.files.get(path);
      return content && { path, bytes: content.byteLength, sha256: sha256(content) };
    });
    const contents = new Map([...this.files.values()].map((content) => [sha256(content), content]));
    const back = inverse(changes, (hash) => contents.get(hash)!);
    const after = new Map(this.files);
    for (const change of changes.changes) if (change.action !== 'write') after.delete(change.path);
    for (const change of changes.changes) {
      if (change.action === 'write') after.set(change.path, change.content);
      else if (change.action === 'move') after.set(change.to, this.files.get(change.path)!);
    }
    this.files = after;
    return back;
  }
}
