import { hash } from 'node:crypto';
import { Refusal } from '#core/refusal';

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

export class MissingFileError extends Refusal {
  constructor(readonly path: string) {
    super(`There is no file ${path}.`);
    this.name = 'MissingFileError';
  }
}

/** Content hash, SHA-256 in hex. The name of a content everywhere in Stone Tray. */
export function sha256(bytes: Uint8Array): string {
  return hash('sha256', bytes, 'hex');
}
