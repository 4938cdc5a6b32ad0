import { describe, expect, it } from 'vitest';
import { sendParts, togetherOrAlone, type Upload } from './upload';

const upload = (path: string, size: number): Upload => ({ path, file: { size } as File });

describe('what is sent', () => {
  it('goes in handfuls when it is small, and alone when it is large, each once', () => {
    const uploads = [
      ...Array.from({ length: 600 }, (_, n) => upload(`p${n}.stp`, 1000)),
      upload('large.stp', 300_000),
      ...Array.from({ length: 40 }, (_, n) => upload(`q${n}.stp`, 250_000)),
    ];
    const requests = togetherOrAlone(uploads);
    expect(
      requests
        .flat()
        .map(({ path }) => path)
        .sort(),
    ).toEqual(uploads.map(({ path }) => path).sort());
    expect(requests.find((request) => request.some(({ path }) => path === 'large.stp'))).toHaveLength(1);
    for (const request of requests) {
      expect(request.length).toBeLessThanOrEqual(250);
      expect(request.reduce((sum, { file }) => sum + file.size, 0)).toBeLessThanOrEqual(4 * 1024 * 1024);
    }
    expect(requests.length).toBeLessThan(9);
    expect(togetherOrAlone([])).toEqual([]);
  });

  it('goes on from where the server says that a large file has come to, and stops when it takes no more', async () => {
    const file = { size: 30 } as Blob;
    const asked: number[] = [];
    // Part by part; the answer to the second was lost, and the third was lost itself.
    const said = [8, 16, 16, 24, 30];
    await sendParts(file, async (from) => {
      asked.push(from);
      return { there: said[asked.length - 1] };
    });
    expect(asked).toEqual([0, 8, 16, 16, 24]);
    const empty: number[] = [];
    await sendParts({ size: 0 } as Blob, async (from) => {
      empty.push(from);
      return { there: 0 };
    });
    expect(empty).toEqual([0]);
    await expect(sendParts(file, async () => ({ there: 8 }))).rejects.toThrow('does not take the file');
  });
});
