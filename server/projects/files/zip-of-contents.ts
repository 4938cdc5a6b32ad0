import { Readable } from 'node:stream';
import { ZipFile } from 'yazl';
import { streamBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';

/** A zip whose contents are read when their turn comes, a piece at a time: memory holds none of them whole. */
export class ZipOfContents {
  private readonly zip = new ZipFile();

  constructor(
    private readonly db: Database,
    private readonly mtime: Date,
  ) {
    // Whoever reads learns of it.
    (this.zip as unknown as NodeJS.EventEmitter).on('error', (error: Error) => this.output.destroy(error));
  }

  private get output(): Readable {
    return this.zip.outputStream as Readable;
  }

  addText(path: string, text: string): void {
    this.zip.addBuffer(Buffer.from(text), path, { mtime: this.mtime });
  }

  /** A stored content. */
  addContent(path: string, sha256: string, bytes: number): void {
    this.add(path, { size: bytes }, async () =>
      Readable.fromWeb((await streamBlob(this.db, sha256)).stream as never),
    );
  }

  /** What is made when its turn comes. */
  addMade(path: string, make: () => Promise<Uint8Array>): void {
    this.add(path, {}, async () => Readable.from([await make()]));
  }

  private add(path: string, known: { size?: number }, open: () => Promise<Readable>): void {
    this.zip.addReadStreamLazy(
      path,
      { mtime: this.mtime, ...known },
      (give) =>
        void open().then(
          (stream) => give(null, stream),
          (error: Error) => give(error, undefined as never),
        ),
    );
  }

  /** No more is added. @returns the zip as it is written */
  end(): Readable {
    this.zip.end();
    return this.output;
  }
}
