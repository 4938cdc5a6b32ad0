import { readFileSync } from 'node:fs';
import path from 'node:path';
import { scanContent } from '#core/project/scan/content';

/** What came of damaged files. */
export interface Damaged {
  files: number;
  /** Read all the same, and refused in words. */
  read: number;
  refused: number;
  /** Ended in an error that nobody expected: there may be none. */
  failed: number;
  /** Longest time for one, milliseconds. */
  longest: number;
}

const SOURCES = [
  'azimuth-drive/azimuth-drive.stp',
  'azimuth-drive/slew-shaft.stp',
  'drawings/az-lid.svg',
  'control/control-box.obj',
  'reports/load-test.md',
];

/** Damages files of the demo in every way, and reads them. */
export function readDamaged(count: number): Damaged {
  const root = path.join(import.meta.dirname, '../demo/files/hx-12');
  const sources = SOURCES.flatMap((file) => {
    try {
      return [{ file, content: readFileSync(path.join(root, file)) }];
    } catch {
      return [];
    }
  });
  const result: Damaged = { files: 0, read: 0, refused: 0, failed: 0, longest: 0 };
  for (let n = 0; n < count; n++) {
    const { file, content } = sources[n % sources.length]!;
    const bytes = damaged(content);
    const began = performance.now();
    try {
      const scan = scanContent(file, bytes);
      if (scan.error) result.refused++;
      else result.read++;
    } catch (error) {
      result.failed++;
      console.log(`${file}, damaged file ${n}: ${(error as Error).stack}`);
    }
    result.files++;
    result.longest = Math.max(result.longest, performance.now() - began);
  }
  return result;
}

function damaged(content: Buffer): Buffer {
  const bytes = Buffer.from(content);
  const at = () => Math.floor(Math.random() * bytes.length);
  switch (Math.floor(Math.random() * 5)) {
    case 0:
      return bytes.subarray(0, at());
    case 1:
      for (let n = 0; n < 1 + 20 * Math.random(); n++) bytes[at()] = Math.floor(Math.random() * 256);
      return bytes;
    case 2: {
      const [from, to] = [at(), at()].sort((a, b) => a - b) as [number, number];
      return Buffer.concat([bytes.subarray(0, from), bytes.subarray(to)]);
    }
    case 3: {
      const from = at();
      const piece = bytes.subarray(from, from + Math.floor(200 * Math.random()));
      return Buffer.concat([
        bytes.subarray(0, from),
        ...Array(1 + Math.floor(50 * Math.random())).fill(piece),
        bytes.subarray(from),
      ]);
    }
    default:
      // Numbers become others: references lead elsewhere, or in circles.
      return Buffer.from(
        bytes
          .toString('latin1')
          .replace(/#\d+/g, (id) => (Math.random() < 0.01 ? `#${Math.floor(Math.random() * 500)}` : id)),
        'latin1',
      );
  }
}
