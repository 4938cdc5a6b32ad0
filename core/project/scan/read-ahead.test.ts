import { describe, expect, it } from 'vitest';
import { readAhead } from './read-ahead';

describe('reading ahead', () => {
  it('keeps the order, gives errors in their turn, and reads only a few in advance', async () => {
    let open = 0;
    let most = 0;
    const read = async (n: number) => {
      most = Math.max(most, ++open);
      await new Promise((resolve) => setTimeout(resolve, (n * 7) % 5));
      if (n === 13) throw new Error('unreadable');
      return n * n;
    };
    const found: (number | string)[] = [];
    for await (const { content } of readAhead(
      Array.from({ length: 40 }, (_, n) => n),
      read,
    )) {
      found.push(await content.catch((error: Error) => error.message));
      open--;
    }
    expect(found).toEqual(Array.from({ length: 40 }, (_, n) => (n === 13 ? 'unreadable' : n * n)));
    expect(most).toBeGreaterThan(1);
    expect(most).toBeLessThan(12);
  });
});
