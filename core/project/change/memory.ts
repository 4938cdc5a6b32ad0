import { type ChangeableFileSet, type ChangeSet, checkConflicts, inverse } from './change-set';
import { type FileEntry, MissingFileError, sha256 } from './file-set';

/** Files in memory: for tests, and for packages before they are written. */
export class MemoryFileSet implements ChangeableFileSet {
  private files: Map<string, FileEntry>;
  private readonly kept = new Map<string, Uint8Array>();

  constructor(files: Iterable<readonly [string, Uint8Array | string]> = []) {
    this.files = new Map(
      [...files].map(([path, content]) => [
        path,
        this.keep(path, typeof content === 'string' ? new TextEncoder().encode(content) : content),
      ]),
    );
  }

  async list(): Promise<FileEntry[]> {
    return [...this.files.values()];
  }

  async read(path: string): Promise<Uint8Array> {
    const entry = this.files.get(path);
    if (!entry) throw new MissingFileError(path);
    return this.kept.get(entry.sha256)!;
  }

  async apply(changes: ChangeSet): Promise<ChangeSet> {
    checkConflicts(changes, (path) => this.files.get(path));
    const after = new Map(this.files);
    for (const change of changes.changes) if (change.action !== 'write') after.delete(change.path);
    for (const change of changes.changes) {
      if (change.action === 'write')
        after.set(change.path, this.keep(change.path, change.content ?? this.kept.get(change.sha256)!));
      else if (change.action === 'move') {
        const { written } = change;
        const content = written && (written.content ?? this.kept.get(written.sha256)!);
        after.set(
          change.to,
          content ? this.keep(change.to, content) : { ...this.files.get(change.path)!, path: change.to },
        );
      }
    }
    this.files = after;
    return inverse(changes, (hash) => this.kept.get(hash)!.byteLength);
  }

  private keep(path: string, content: Uint8Array): FileEntry {
    const hash = sha256(content);
    this.kept.set(hash, content);
    return { path, bytes: content.byteLength, sha256: hash };
  }
}
