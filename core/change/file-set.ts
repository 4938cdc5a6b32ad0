import { createHash } from 'node:crypto';

/** A file as its home lists it. */
export interface FileEntry {
  path: string;
  bytes: number;
  sha256: string;
}

/** Read access to a set of files: a folder on disk, a project in the database, or memory. */
export interface FileSet {
  list(): Promise<FileEntry[]>;
  /** @throws MissingFileError when there is no such file */
  read(path: string): Promise<Uint8Array>;
}

/** A FileSet that a ChangeSet can be applied to. */
export interface ChangeableFileSet extends FileSet {
  /**
   * Carries a ChangeSet out, all or nothing.
   * @returns the ChangeSet that takes it back
   * @throws ConflictError when a file is no longer what the plan was made from; nothing is changed then
   */
  apply(changes: import('./change-set').ChangeSet): Promise<import('./change-set').ChangeSet>;
}

export class MissingFileError extends Error {
  constructor(readonly path: string) {
    super(`There is no file ${path}.`);
    this.name = 'MissingFileError';
  }
}

/** Content hash, SHA-256 in hex. The name of a content everywhere in Stone Tray. */
export function sha256(bytes: Uint8Array): string {
  return createHash('sha256').update(bytes).digest('hex');
}
